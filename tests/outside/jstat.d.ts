declare module 'jstat' {
  const jstat: {
    quantiles(sample: readonly number[], p: readonly number[], alpha: number, beta: number): number[];
  };
  export default jstat;
}
