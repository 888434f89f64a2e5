/** What a source sent, by the answer that it got. */
export interface IntakeTotals {
  readonly sourceId: string;
  readonly accepted: number;
  readonly duplicates: number;
  readonly refused: number;
}
