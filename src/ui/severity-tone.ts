/** Severities as fills of the small marks in lists. */
export const SEVERITY_FILL = { stop: 'bg-stop', caution: 'bg-caution-fill', note: 'bg-ink-2' } as const;
