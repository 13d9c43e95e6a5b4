const channels = (colour: string): number[] =>
  [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16))

/** A colour between two, `share` of the way from the first to the second. Both like `#0f5d5a`. */
export function mix(from: string, to: string, share: number): string {
  const end = channels(to)
  const parts = channels(from).map((channel, index) =>
    Math.round(channel * (1 - share) + (end[index] ?? 0) * share)
      .toString(16)
      .padStart(2, '0'),
  )
  return `#${parts.join('')}`
}

/** How bright a colour is, from 0 to 1: "relative luminance" of WCAG 2.2. */
export function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = channels(colour).map((channel) => {
    const share = channel / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}

/** How much two colours differ in brightness, from 1 to 21: "contrast ratio" of WCAG 2.2. */
export function contrast(one: string, other: string): number {
  const [dark = 0, bright = 0] = [luminance(one), luminance(other)].toSorted((a, b) => a - b)
  return (bright + 0.05) / (dark + 0.05)
}

/** Text has to differ from what it stands on by this much, large text by the other (WCAG 2.2, 1.4.3). */
export const READABLE = { text: 4.5, large: 3 } as const
