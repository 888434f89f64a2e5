/** The faults that the generator can plant, in one place. `expect` says what the product must find for each. */
export interface PlantedFault {
  readonly id: FaultId;
  readonly title: string;
  readonly expect:
    | {
        readonly by: 'finding';
        readonly code: string;
        /** Empty where the finding speaks of a source, not of one event. */
        readonly eventName: string;
        readonly sourceId: string;
        readonly releases: readonly string[];
        /** Codes of further findings that have the same cause. */
        readonly also?: readonly string[];
      }
    | { readonly by: 'intake'; readonly what: 'duplicates' };
}

export const FAULT_IDS = [
  'hours-for-days',
  'wrong-case-twin',
  'press-not-outcome',
  'unlinked-join',
  'shared-kiosk',
  'template-user-id',
  'swapped-user-property',
  'retries',
  'bound-twice',
  'kiosk-clock',
  'silent-fees',
  'typed-email',
  'email-user-id',
  'text-deposit',
  'never-built',
  'milestones-again',
  'unlisted-category',
  'signed-in-on-view',
  'button-reworded',
] as const;
export type FaultId = (typeof FAULT_IDS)[number];

const finding = (
  id: FaultId,
  title: string,
  code: string,
  eventName: string,
  sourceId: string,
  releases: readonly string[],
  also: readonly string[] = [],
): PlantedFault => ({ id, title, expect: { by: 'finding', code, eventName, sourceId, releases, also } });

/** The release of all servers and kiosks. */
const STEADY = ['2026.9'];

export const PLANTED: readonly PlantedFault[] = [
  finding(
    'hours-for-days',
    'Android since 3.4.0 sends the loan length in hours instead of days',
    'unit-suspicion',
    'Reservation Requested',
    'app',
    ['android 3.4.0'],
    ['out-of-range'],
  ),
  finding('wrong-case-twin', 'iOS 5.1.x sends `Tool viewed` beside `Tool Viewed`', 'unknown-event', 'Tool viewed', 'app', [
    'ios 5.1.0',
    'ios 5.1.2',
  ]),
  finding(
    'press-not-outcome',
    'The web catalogue since 8.1.0 fires `Reservation Requested` on the press, failed requests included',
    'premature-trigger',
    'Reservation Requested',
    'web',
    ['8.1.0', '8.2.0', '8.2.1'],
  ),
  finding(
    'unlinked-join',
    'Joins through the short form never link the member ID to the anonymous ID',
    'users-never-linked',
    'Membership Started',
    'web',
    ['8.0.3', '8.1.0', '8.2.0', '8.2.1'],
  ),
  finding('unlinked-join', 'The same in the app', 'users-never-linked', 'Membership Started', 'app', [
    'ios 5.0.4',
    'android 3.3.2',
    'ios 5.1.0',
    'android 3.4.0',
    'ios 5.1.2',
  ]),
  finding('shared-kiosk', 'The kiosks sign members in one after another on one device ID', 'shared-device', '', 'kiosk', STEADY),
  finding(
    'template-user-id',
    'Web 8.2.0 sends the user ID as an unfilled template',
    'placeholder-value',
    'Tool Viewed',
    'web',
    ['8.2.0'],
    ['user-id-dropped'],
  ),
  finding('swapped-user-property', 'Android passes name and value of `home_branch` swapped', 'swapped-user-property', 'Signed In', 'app', [
    'android 3.3.2',
    'android 3.4.0',
  ]),
  {
    id: 'retries',
    title: 'One in a hundred messages is sent again under the same message ID',
    expect: { by: 'intake', what: 'duplicates' },
  },
  finding('bound-twice', 'Web 8.1.0 sends `Catalogue Searched` twice within milliseconds', 'double-fire', 'Catalogue Searched', 'web', [
    '8.1.0',
  ]),
  finding('kiosk-clock', 'The kiosk in Millrace runs five hours ahead', 'clock-ahead', '', 'kiosk', STEADY),
  finding('silent-fees', '`Late Fee Charged` stops arriving for three days', 'silence', 'Late Fee Charged', 'payments', []),
  finding('typed-email', 'An e-mail address is typed into `damage_note`', 'personal-data', 'Loan Returned', 'backend', STEADY),
  finding(
    'email-user-id',
    'Payments sends the e-mail address as the user ID',
    'personal-identifier',
    'Late Fee Charged',
    'payments',
    STEADY,
    ['users-never-linked'],
  ),
  finding('text-deposit', 'The kiosk sends deposits as text', 'wrong-type', 'Deposit Paid', 'kiosk', STEADY),
  finding('never-built', '`Loan Extended` has never arrived', 'never-seen', 'Loan Extended', 'backend', []),
  finding('milestones-again', '`Guide Read` fires its milestones again after a reload', 'milestones', 'Guide Read', 'web', [
    '8.0.3',
    '8.1.0',
    '8.2.0',
    '8.2.1',
  ]),
  finding('unlisted-category', 'Web 8.2.1 sends a tool category that is not on the list', 'value-not-allowed', 'Tool Viewed', 'web', [
    '8.2.1',
  ]),
  finding(
    'signed-in-on-view',
    '`Signed In` fires whenever the account page opens on iOS 5.1.0',
    'repeated',
    'Signed In',
    'app',
    ['ios 5.1.0'],
    ['volume-change'],
  ),
  finding(
    'button-reworded',
    'The link to a librarian has other words since web 8.2.0',
    'definition-dropped',
    'Librarian Asked',
    'web',
    [],
    ['volume-change'],
  ),
];
