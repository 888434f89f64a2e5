/** Works on what comes piece by piece, some pieces at once, and gives the results in the order of the pieces.
 *  Errors: what a piece ends with, in its turn; what the source ends with, after all that it gave before is done.
 */
export async function* ahead<T, R>(source: AsyncIterable<T>, max: number, work: (piece: T) => Promise<R>): AsyncGenerator<R> {
  const pieces = source[Symbol.asyncIterator]();
  const under: Promise<R>[] = [];
  let broken: { readonly why: unknown } | undefined;
  try {
    for (;;) {
      let next: IteratorResult<T>;
      try {
        next = await pieces.next();
      } catch (why) {
        broken = { why };
        break;
      }
      if (next.done) break;
      const done = work(next.value);
      // Whoever waits for it hears of it; until then it must not end the process.
      done.catch(() => undefined);
      under.push(done);
      if (under.length >= max) yield await under.shift()!;
    }
    while (under.length > 0) yield await under.shift()!;
  } finally {
    await pieces.return?.();
  }
  if (broken) throw broken.why;
}
