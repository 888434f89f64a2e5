/** A value that is edited where it is read: what is typed, what is wrong with it, and when it is kept. Without any interface code. */

export interface Typed {
  /** What is typed; `undefined` while nothing is, and the value itself is shown. */
  readonly text: string | undefined;
  /** The value when typing began. */
  readonly before: string;
  readonly problem: string | undefined;
}

export const NOTHING_TYPED: Typed = { text: undefined, before: '', problem: undefined };

/** Shape: what is again as it was is nothing typed, so that a change elsewhere is no conflict. */
export const typing = (typed: Typed, value: string, text: string): Typed => {
  const before = typed.text === undefined ? value : typed.before;
  return text === value && value === before ? NOTHING_TYPED : { text, before, problem: undefined };
};

/** What is shown in the field, and below it. A value that changed elsewhere while somebody typed is said, and nothing of theirs is lost. */
export const shownOf = (typed: Typed, value: string): { readonly text: string; readonly problem: string | undefined } =>
  typed.text === undefined
    ? { text: value, problem: typed.problem }
    : {
        text: typed.text,
        problem:
          typed.problem ??
          (isStale(typed, value) ? `Changed elsewhere to “${value.slice(0, 60)}”. Enter keeps yours, Escape takes theirs.` : undefined),
      };

/** Whether something is typed that is not kept: then undoing is of the field. */
export const isTyped = (typed: Typed, value: string): boolean => typed.text !== undefined && typed.text !== value;

export const isStale = (typed: Typed, value: string): boolean => typed.text !== undefined && value !== typed.before && value !== typed.text;

/** What follows of keeping what is typed, by Enter or by leaving the field.
 *  Shape: `save` is called with a text that differs from the value; it gives what is wrong with it, or nothing. Leaving never overwrites
 *  what changed elsewhere.
 */
export const kept = (typed: Typed, value: string, by: 'enter' | 'leaving', save: (text: string) => string | void): Typed => {
  const { text } = typed;
  if (text === undefined || text === value) return NOTHING_TYPED;
  if (by === 'leaving' && isStale(typed, value)) return typed;
  const problem = save(text);
  return typeof problem !== 'string' ? NOTHING_TYPED : { ...typed, before: value, problem };
};
