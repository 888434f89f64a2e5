/** How precisely a figure is to be known, unless its question says otherwise; apart from how precisely it is, which a page need not work out. */
import type { Formula } from '../questions/formula';

/** A share in hundredths, with as many digits as tell it apart: 0.034 → 3.4; never rounded down to nothing. */
export const shownShare = (v: number): string => {
  const n = v * 100;
  return n >= 10 ? String(Math.round(n)) : n >= 0.1 ? String(Math.round(n * 10) / 10) : n === 0 ? '0' : 'under 0.1';
};

export const WANTED = {
  /** Common practice; no source. */
  share: { value: 0.02, text: (v: number): string => `± ${shownShare(v)} ${shownShare(v) === '1' ? 'point' : 'points'}` },
  amount: { value: 0.05, text: (v: number): string => `± ${shownShare(v)} %` },
} as const;

const SHARES: readonly Formula['type'][] = ['conversion', 'retention', 'share who also did', 'rate of a value'];

/** Whether a formula's figure is a share, known in points, or an amount, known in percent of it. */
export const wantedOf = (f: Formula | null): keyof typeof WANTED => (f && SHARES.includes(f.type) ? 'share' : 'amount');
