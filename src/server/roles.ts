/** What a process does, as it was started: all by default. */

export const ROLES = ['web', 'intake', 'analysis', 'jobs'] as const;
export type Role = (typeof ROLES)[number];

export const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text);

/** Roles out of a list with commas. Errors: throws where one is none of them, saying which there are. */
export const rolesIn = (list: string | undefined): ReadonlySet<Role> => {
  const given = (list ?? '')
    .split(',')
    .map((r) => r.trim())
    .filter(Boolean);
  if (given.length === 0) return new Set(ROLES);
  const wrong = given.find((r) => !isRole(r));
  if (wrong !== undefined) throw new Error(`“${wrong}” is no role of a process; the roles are ${ROLES.join(', ')}.`);
  return new Set(given.filter(isRole));
};

export const ownRoles = rolesIn(process.env['SIGNAL_POST_ROLES']);
