declare module 'talisman/metrics/levenshtein' {
  const levenshtein: (a: string, b: string) => number;
  export default levenshtein;
}
