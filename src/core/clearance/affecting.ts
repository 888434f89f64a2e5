/** Which findings a question's figure hangs on. */

interface Found {
  readonly key: string;
  /** Names of the events that it is about. */
  readonly touches: readonly string[];
}

/** Findings on the events that a question needs, and those that any of its gates names: a clock, a shared device, a source are of no event.
 *  Shape: in the order given, each once.
 */
export const affecting = <F extends Found>(
  found: readonly F[],
  needed: ReadonlySet<string>,
  gates: readonly { readonly findings?: readonly string[] | undefined }[],
): F[] => {
  const named = new Set(gates.flatMap((g) => g.findings ?? []));
  return found.filter((f) => named.has(f.key) || f.touches.some((n) => needed.has(n)));
};
