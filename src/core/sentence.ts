/** A text with a full stop at its end, once; an empty one stays empty. */
export const ended = (text: string): string => (text === '' ? '' : text.replace(/\.?$/, '.'));
