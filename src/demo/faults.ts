/** The faults that the generator can plant, in one place. `expect` says what the product must find for each. */
export interface PlantedFault {
  readonly id: FaultId;
  readonly title: string;
  readonly expect:
    | {
        readonly by: 'finding';
        readonly code: string;
        readonly eventName: string;
        readonly sourceId: string;
        readonly releases: readonly string[];
      }
    | { readonly by: 'identity'; readonly what: 'orphans' }
    | { readonly by: 'intake'; readonly what: 'duplicates' };
}

export const FAULT_IDS = [
  'hours-for-days',
  'wrong-case-twin',
  'press-not-outcome',
  'unlinked-join',
  'template-user-id',
  'retries',
] as const;
export type FaultId = (typeof FAULT_IDS)[number];

export const PLANTED: readonly PlantedFault[] = [
  {
    id: 'hours-for-days',
    title: 'Android since 3.4.0 sends the loan length in hours instead of days',
    expect: { by: 'finding', code: 'out-of-range', eventName: 'Reservation Requested', sourceId: 'app', releases: ['android 3.4.0'] },
  },
  {
    id: 'wrong-case-twin',
    title: 'iOS 5.1.x sends `Tool viewed` beside `Tool Viewed`',
    expect: { by: 'finding', code: 'unknown-event', eventName: 'Tool viewed', sourceId: 'app', releases: ['ios 5.1.0', 'ios 5.1.2'] },
  },
  {
    id: 'press-not-outcome',
    title: 'The web catalogue since 8.1.0 fires `Reservation Requested` on the press, failed requests included',
    expect: {
      by: 'finding',
      code: 'premature-trigger',
      eventName: 'Reservation Requested',
      sourceId: 'web',
      releases: ['8.1.0', '8.2.0', '8.2.1'],
    },
  },
  {
    id: 'unlinked-join',
    title: 'Joins through the short form never link the member ID to the anonymous ID',
    expect: { by: 'identity', what: 'orphans' },
  },
  {
    id: 'template-user-id',
    title: 'Web 8.2.0 sends the user ID as an unfilled template',
    expect: { by: 'finding', code: 'placeholder-value', eventName: 'Tool Viewed', sourceId: 'web', releases: ['8.2.0'] },
  },
  {
    id: 'retries',
    title: 'One in a hundred messages is sent again under the same message ID',
    expect: { by: 'intake', what: 'duplicates' },
  },
];
