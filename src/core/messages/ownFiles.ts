/**
 * Pictures that the shop has put in are named by their path alone (a relative reference, RFC 3986 4.2).
 * Where Yomble is reached is put before it when a message is rendered, so that nothing kept is broken by
 * a new port or domain.
 */
const OWN_FILE = /^\/files\/[A-Za-z0-9_-]{1,60}$/

/** How a picture that was put in is written down. */
export const ownFile = (id: string): string => `/files/${id}`

/** True for what `ownFile` has written. */
export const isOwnFile = (text: string): boolean => OWN_FILE.test(text.trim())

/** HTML in which own pictures can be loaded from anywhere. */
export function withOwnAddress(html: string, publicUrl: string): string {
  return html.replaceAll(/(\ssrc=["'])(?=\/files\/)/g, (before) => `${before}${publicUrl}`)
}
