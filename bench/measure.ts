/** Interleaved timing of contenders: the machine's drift hits all of them alike. */

/** The short form: small sizes and the same assertions, and no goal is judged. The tests run it, so that no benchmark rots. */
export const isShort = process.env['BENCH_SHORT'] === '1';
export const size = <T>(whole: T, short: T): T => (isShort ? short : whole);

export interface Contender {
  readonly name: string;
  run(): void | Promise<void>;
}

/** Median time of each contender in ms over `rounds` rounds; the order rotates. */
export const measure = async (contenders: readonly Contender[], rounds: number): Promise<Map<string, number>> => {
  const times = new Map(contenders.map((c) => [c.name, [] as number[]]));
  for (let round = isShort ? 0 : -1; round < (isShort ? 1 : rounds); round++)
    for (let i = 0; i < contenders.length; i++) {
      const c = contenders[(i + Math.max(0, round)) % contenders.length]!;
      globalThis.gc?.();
      const began = performance.now();
      await c.run();
      if (round >= 0) times.get(c.name)!.push(performance.now() - began);
    }
  return new Map([...times].map(([name, t]) => [name, t.sort((a, b) => a - b)[Math.floor(t.length / 2)]!]));
};

/** Throws where a goal is missed, after printing how it stands. */
export const goal = (what: string, ratio: number, floor: number): boolean => {
  if (isShort) {
    console.log(`short   ${what}: ${ratio.toFixed(2)}, not judged`);
    return true;
  }
  const met = ratio >= floor;
  console.log(`${met ? 'met   ' : 'MISSED'}  ${what}: ${ratio.toFixed(2)} (goal ${floor})`);
  return met;
};
