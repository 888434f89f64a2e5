/** Interleaved timing of contenders: the machine's drift hits all of them alike. */
export interface Contender {
  readonly name: string;
  run(): void | Promise<void>;
}

/** Median time of each contender in ms over `rounds` rounds; the order rotates. */
export const measure = async (contenders: readonly Contender[], rounds: number): Promise<Map<string, number>> => {
  const times = new Map(contenders.map((c) => [c.name, [] as number[]]));
  for (let round = -1; round < rounds; round++)
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
  const met = ratio >= floor;
  console.log(`${met ? 'met   ' : 'MISSED'}  ${what}: ${ratio.toFixed(2)} (goal ${floor})`);
  return met;
};
