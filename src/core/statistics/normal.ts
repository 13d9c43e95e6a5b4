// oxlint-disable-next-line typescript/triple-slash-reference -- whoever uses this has to know its types
/// <reference path="./jstat.d.ts" />
import jstat from 'jstat'

/** The share of a standard normal distribution below `z`. */
export const normalShare = (z: number): number => jstat.normal.cdf(z, 0, 1)

/** The value below which a share of a standard normal distribution lies: 1.96 for 0.975. */
export const normalQuantile = (share: number): number => jstat.normal.inv(share, 0, 1)

/** How likely a χ² value at least this large is, if there is no difference. */
export const chiSquareTail = (value: number, degrees: number): number =>
  1 - jstat.chisquare.cdf(value, degrees)
