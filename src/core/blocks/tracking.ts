import { z } from 'zod'

/** What is followed of a mail, and what is added to its links. */
export const trackingSchema = z.strictObject({
  /** Links lead over an address of ours, so that a click is known of. */
  links: z.boolean(),
  /** A picture of one point is loaded when it is opened. */
  opens: z.boolean(),
  /** Added to every link, like "utm_source=email&utm_campaign=first-order". */
  parameters: z.string().max(300),
})
export type Tracking = z.infer<typeof trackingSchema>

/** What is followed of a mail where it does not say: nothing of those written as by a person. */
export function trackingOf({
  tracking,
  format,
}: {
  tracking?: Tracking | undefined
  format: string
}): Tracking {
  const followed = format !== 'plain'
  return tracking ?? { links: followed, opens: followed, parameters: '' }
}

/**
 * A web address with parameters added to it; those it has already stay as they are. Anything else
 * that a link can lead to is left alone.
 */
export function withParameters(url: string, parameters: string): string {
  if (!/^https?:\/\//i.test(url) || parameters.trim() === '') return url
  const [beforeHash = '', ...hash] = url.split('#')
  const [, ...query] = beforeHash.split('?')
  const known = new Set(
    query
      .join('?')
      .split('&')
      .map((pair) => pair.split('=')[0]),
  )
  const added = parameters
    .trim()
    .replace(/^[?&]+/, '')
    .split('&')
    .filter((pair) => pair !== '' && !known.has(pair.split('=')[0]))
  if (added.length === 0) return url
  const sign = query.length === 0 ? '?' : '&'
  const rest = hash.length === 0 ? '' : `#${hash.join('#')}`
  return `${beforeHash}${sign}${added.join('&')}${rest}`
}
