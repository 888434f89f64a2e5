/** What a script without modules has, whether the stub or the sender stands behind it. */
export const CALLS = ['start', 'event', 'view', 'interaction', 'identify', 'signOut', 'rotate', 'consent', 'flush', 'stop'] as const;
