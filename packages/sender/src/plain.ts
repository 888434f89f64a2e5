/** Values as they are at the moment of the call, in what JSON can say: what an application goes on changing, or cannot be said, never reaches a message. */
import { safely } from './safely';
import type { Values } from './wire';

const textOf = (value: unknown): string | undefined => {
  const above: unknown[] = [];
  return JSON.stringify(value, function (this: unknown, _, v: unknown) {
    if (typeof v === 'bigint') return Number.isSafeInteger(Number(v)) ? Number(v) : String(v);
    if (typeof v === 'number') return Number.isFinite(v) ? v : undefined;
    if (typeof v === 'object' && v) {
      while (above.length && above.at(-1) !== this) above.pop();
      // A circle ends where it closes.
      if (above.includes(v)) return undefined;
      above.push(v);
    }
    return v;
  });
};

/** A copy that JSON can say: numbers that are none, functions, circles and what throws are left out, whole numbers beyond all doubt become text. */
export const plain = (values: unknown): Values | undefined => {
  if (typeof values !== 'object' || !values || Array.isArray(values)) return undefined;
  const parts = Object.keys(values).flatMap((name) => {
    const text = safely(() => textOf((values as Record<string, unknown>)[name]));
    return text === undefined ? [] : `${JSON.stringify(name)}:${text}`;
  });
  return JSON.parse(`{${parts.join()}}`) as Values;
};

/** Texts alone, of what should be texts. */
export const texts = (values: unknown): Record<string, string> =>
  Object.fromEntries(
    Object.entries(plain(values) ?? {})
      .filter((pair): pair is [string, string | number | boolean] => typeof pair[1] !== 'object')
      .map(([k, v]) => [k, String(v)]),
  );
