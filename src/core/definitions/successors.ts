/** What probably took the place of an interaction that came no more: the same button under another text, or in another place. */
import { jaccard } from '../stats/jaccard';

/** One kind of interaction as it was recorded. */
export interface Interaction {
  readonly text: string;
  /** Names on the way to the element, from the outside in, separated by `/`. */
  readonly place: string;
  readonly role: string;
  /** Messages by page. */
  readonly pages: ReadonlyMap<string, number>;
  readonly people: number;
  /** First and last message, UTC epoch ms. */
  readonly firstAt: number;
  readonly lastAt: number;
}

export interface Successor {
  readonly interaction: Interaction;
  /** How much speaks for it, 0..1, and what: each 0..1. */
  readonly likeness: number;
  readonly because: {
    readonly place: number;
    readonly pages: number;
    readonly role: number;
    readonly text: number;
    readonly people: number;
  };
}

const WEIGHTS = { place: 0.35, pages: 0.25, role: 0.1, text: 0.15, people: 0.15 } as const;
const LEAST = 0.5;

/** Share of the names on the way that two places have in common, from the outside in. */
const samePlace = (a: string, b: string): number => {
  const [x, y] = [a.split('/'), b.split('/')];
  let n = 0;
  while (n < x.length && n < y.length && x[n] === y[n]) n++;
  return n / Math.max(x.length, y.length);
};

/** Share of the messages that lie on pages of both, each page as often as the one that has it less. */
const samePages = (a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number => {
  const total = (m: ReadonlyMap<string, number>): number => [...m.values()].reduce((n, k) => n + k, 0);
  const [ofA, ofB] = [total(a), total(b)];
  if (ofA === 0 || ofB === 0) return 0;
  let both = 0;
  for (const [page, n] of a) both += Math.min(n / ofA, (b.get(page) ?? 0) / ofB);
  return both;
};

const wordsOf = (text: string): Set<string> =>
  new Set(
    text
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => w !== ''),
  );

const rate = (i: Interaction, from: number, to: number): number => i.people / Math.max(1, to - from);

/** Interactions that began when another one ended, the likeliest first.
 *  Shape: only such as were never there before the last message of the lost one, and of which enough speaks; empty where nothing does.
 *  Units: `until` is up to when messages were recorded, UTC epoch ms.
 *  Method: a weighted mean of place, pages, role, words and people per time. Source: own definition.
 */
export const successorsOf = (lost: Interaction, others: readonly Interaction[], until: number): Successor[] =>
  others
    .filter((o) => o.firstAt > lost.lastAt)
    .map((interaction): Successor => {
      const [x, y] = [rate(lost, lost.firstAt, lost.lastAt), rate(interaction, interaction.firstAt, until)];
      const because = {
        place: samePlace(lost.place, interaction.place),
        pages: samePages(lost.pages, interaction.pages),
        role: lost.role === interaction.role ? 1 : 0,
        text: jaccard(wordsOf(lost.text), wordsOf(interaction.text)),
        people: Math.max(x, y) === 0 ? 0 : Math.min(x, y) / Math.max(x, y),
      };
      const likeness = (Object.keys(WEIGHTS) as (keyof typeof WEIGHTS)[]).reduce((sum, k) => sum + WEIGHTS[k] * because[k], 0);
      return { interaction, likeness, because };
    })
    .filter((s) => s.likeness >= LEAST)
    .sort((a, b) => b.likeness - a.likeness || (a.interaction.text < b.interaction.text ? -1 : 1));
