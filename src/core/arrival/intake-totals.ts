/** What sources sent, by the answer that it got. */

export interface IntakeTotals {
  readonly sourceId: string;
  readonly accepted: number;
  readonly duplicates: number;
  readonly rejected: number;
}

/** The same for one day in UTC: days since 1970. */
export interface IntakeDay extends IntakeTotals {
  readonly day: number;
}
