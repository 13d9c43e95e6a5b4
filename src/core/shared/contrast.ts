/** The relative luminance of a colour like "#1d2826" (WCAG 2, "relative luminance"). */
function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => {
    const channel = Number.parseInt(colour.slice(at, at + 2), 16) / 255
    return channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}

/** The contrast of two colours, from 1 to 21 (WCAG 2, "contrast ratio"). */
export function contrast(one: string, other: string): number {
  const [dark = 0, light = 0] = [luminance(one), luminance(other)].toSorted((a, b) => a - b)
  return (light + 0.05) / (dark + 0.05)
}

/** What text needs to be read by everybody (WCAG 2, 1.4.3). */
export const ENOUGH_CONTRAST = 4.5
