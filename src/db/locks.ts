/** Keys of the advisory locks, one for each thing that only one process may do at a time. A number is never given again: processes of two
 *  builds may run side by side. `partitions` is taken within SQL, by migrations 0001 and 0009.
 */
export const LOCKS = {
  /** Under it messages get their sequence numbers, so that the order of numbers is the order of commits and whoever tails misses nothing. */
  write: 7_351_001,
  /** Making partitions of months. */
  partitions: 7_351_002,
  /** Changes of the plan. */
  change: 7_351_003,
  /** Making the queues of jobs. */
  queues: 7_351_005,
  /** Looking for what alerts come of, and keeping it. */
  alerts: 7_351_006,
  /** Keeping the answers for readers. */
  answers: 7_351_007,
  /** Bringing the schema up to date. */
  schema: 7_351_008,
} as const;
