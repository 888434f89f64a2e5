/** The label of a mark on the time axis of a chart, written along its line. */

/** The value of a token of the theme. */
export const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

export const markLabel = (text: string) => ({
  text,
  orientation: 'vertical' as const,
  borderColor: 'transparent',
  style: {
    background: token('--paper'),
    color: token('--ink'),
    fontSize: '11px',
    padding: { left: 2, right: 2, top: 1, bottom: 1 },
  },
});
