/** The views of the station beside its home, the findings and the live view. */
export const VIEWS = [
  { id: 'matrix', title: 'Where and when' },
  { id: 'volume', title: 'Volume' },
  { id: 'counts', title: 'Counts and delays' },
  { id: 'profile', title: 'Profiles' },
  { id: 'user', title: 'User properties' },
  { id: 'pairs', title: 'Client and server' },
  { id: 'drift', title: 'Drift' },
  { id: 'logbook', title: 'Logbook' },
  { id: 'retests', title: 'To look at again' },
  { id: 'file', title: 'Bring in a file' },
  { id: 'refused', title: 'Refused' },
] as const;
export type ViewId = (typeof VIEWS)[number]['id'];

/** The view that a place names, with the rest of the place; `undefined` where it is a finding or nothing. */
export const viewOf = (item: string | undefined): { readonly id: ViewId; readonly rest: string } | undefined => {
  if (item === undefined || item.startsWith('[')) return undefined;
  const [name = '', ...rest] = item.split(':');
  const view = VIEWS.find((v) => v.id === name);
  return view && { id: view.id, rest: rest.join(':') };
};
