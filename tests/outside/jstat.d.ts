declare module 'jstat' {
  const jstat: {
    quantiles(sample: readonly number[], p: readonly number[], alpha: number, beta: number): number[];
    readonly fn: { oneSidedDifferenceOfProportions(p1: number, n1: number, p2: number, n2: number): number };
    readonly normal: { cdf(x: number, mean: number, sd: number): number };
    readonly chisquare: { inv(p: number, dof: number): number };
  };
  export default jstat;
}
