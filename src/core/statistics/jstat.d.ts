/** What we use of it: it comes without types. */
declare module 'jstat' {
  interface Distribution {
    cdf: (value: number, ...parameters: number[]) => number
    inv: (share: number, ...parameters: number[]) => number
  }
  const jstat: {
    normal: Distribution
    chisquare: Distribution
  }
  export default jstat
}
