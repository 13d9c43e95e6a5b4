/** Within what a count lies nineteen times in twenty: 1.96 standard deviations of a count of what was drawn (Poisson, common practice). */
const SPREAD = 1.96

/**
 * How far figures that were reckoned from one in so many people can be trusted: “Reckoned from one in 25 people, drawn by lot: a
 * figure of 1,000 may be between 690 and 1,310.” Empty where everybody was asked.
 */
export function lotWords(oneIn: number): string {
  if (oneIn <= 1) return ''
  const figure = 1000
  const off = Math.round(SPREAD * Math.sqrt(figure * oneIn))
  const bounds = [Math.max(0, figure - off), figure + off].map((one) => one.toLocaleString('en-IE'))
  return `Reckoned from one in ${oneIn} people, drawn by lot: a figure of 1,000 may be between ${bounds.join(' and ')}.`
}
