/** What a message carries, in short: for a row of a list. */
import { masked } from './personal-data';

const MAX_SHOWN = 4;
const MAX_VALUE = 40;

const valueText = (v: unknown): string => {
  if (Array.isArray(v)) return v.length === 1 ? '1 entry' : `${v.length} entries`;
  if (typeof v === 'object' && v !== null) return '{…}';
  const text = masked(String(v));
  return text.length > MAX_VALUE ? `${text.slice(0, MAX_VALUE - 1)}…` : text;
};

/** Each value with the names on the way to it, in the order in which they were sent. */
function* leaves(own: object, way = ''): Generator<readonly [string, unknown]> {
  for (const [name, v] of Object.entries(own) as [string, unknown][]) {
    const path = way + masked(name);
    if (typeof v === 'object' && v !== null && !Array.isArray(v) && Object.keys(v).length > 0 && path.length < MAX_VALUE)
      yield* leaves(v, `${path}.`);
    else yield [path, v];
  }
}

/** The first properties of a message with their values, in the order in which they were sent; else those of the user, else its identifiers.
 *  Shape: one line, empty for a message that carries nothing; what is inside an object has the object's name before it. Personal data is masked:
 *  a list is seen by passers-by.
 */
export const firstProperties = (body: Readonly<Record<string, unknown>>): string => {
  for (const part of ['properties', 'user_properties', 'ids']) {
    const own = body[part];
    if (typeof own !== 'object' || own === null || Array.isArray(own)) continue;
    const shown: string[] = [];
    let more = false;
    for (const [path, v] of leaves(own)) {
      if (shown.length === MAX_SHOWN) {
        more = true;
        break;
      }
      shown.push(`${path} ${valueText(v)}`);
    }
    if (shown.length > 0) return `${shown.join(', ')}${more ? ', …' : ''}`;
  }
  return '';
};
