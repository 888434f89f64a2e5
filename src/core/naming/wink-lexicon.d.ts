declare module 'wink-lexicon/src/wn-verb-exceptions.js' {
  /** Irregular verb form → base form. */
  const exceptions: Record<string, string>;
  export default exceptions;
}
