/** What an alert can be about. */
export const ALERT_KINDS = [
  'signal fell',
  'signal rose',
  'gate waived',
  'finding opened',
  'finding reopened',
  'finding spread',
  'finding got worse',
  'sign-off fell',
  'volume',
  'silence',
  'limit',
  'follow-up due',
  'rejected messages',
] as const;
export type AlertKind = (typeof ALERT_KINDS)[number];

/** In words, for a list to choose from. */
export const KIND_TEXT: Readonly<Record<AlertKind, string>> = {
  'signal fell': 'a signal falls',
  'signal rose': 'a signal rises',
  'gate waived': 'somebody answers for a gate',
  'finding opened': 'a finding opens',
  'finding reopened': 'a finding opens again',
  'finding spread': 'a finding spreads',
  'finding got worse': 'a finding becomes more severe',
  'sign-off fell': 'a sign-off falls',
  volume: 'a volume leaves its band',
  silence: 'an event falls silent',
  limit: 'a limit has less than 20 % of room',
  'follow-up due': 'a follow-up is due',
  'rejected messages': 'messages are rejected',
};
