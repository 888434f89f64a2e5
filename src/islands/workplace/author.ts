/** Who is editing: a name that people give themselves, kept in this browser. */
const KEY = 'signal-post-author';

export const authorName = (): string => (typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY)) ?? 'you';

export const setAuthorName = (name: string): void => {
  const trimmed = name.trim().slice(0, 60);
  if (trimmed === '') localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, trimmed);
};
