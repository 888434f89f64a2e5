/** What can be put right, in the order in which it is; apart from how, so that a page need not bring that along. */
export const CORRECTIONS = [
  { id: 'twins', title: 'Other spellings counted as the event that they are' },
  { id: 'early', title: 'Messages sent before the outcome was known left out' },
  { id: 'twice', title: 'Messages that came twice counted once' },
  { id: 'clocks', title: 'Clocks that run ahead put right' },
  { id: 'units', title: 'Values in another unit converted' },
  { id: 'links', title: 'Identifiers that come with a user ID linked to it' },
] as const;
export type CorrectionId = (typeof CORRECTIONS)[number]['id'];
