import type { Interval } from '../../../core/statistics/rates.ts'

/** "12.3 %"; what is under one in a hundred with one digit more: "0.21 %". */
export function percentWords(share: number): string {
  return `${digits(share)} %`
}

/** "9.9–15.1 %". */
export function rangeWords({ low, high }: Interval): string {
  return `${digits(low)}–${digits(high)} %`
}

const digits = (share: number): string =>
  (share * 100).toFixed(share > 0 && share < 0.01 ? 2 : 1).replace(/\.0+$/, '')
