import { withParameters, type Tracking } from '../../../core/blocks/tracking.ts'
import { escapeHtml } from '../html.ts'

const HREF = /(<a\b[^>]*?\shref=")(https?:\/\/[^"]*)(")/gi

const ENTITIES: Readonly<Record<string, string>> = {
  '&amp;': '&',
  '&lt;': '<',
  '&gt;': '>',
  '&quot;': '"',
  '&#39;': "'",
}
const unescaped = (text: string): string =>
  text.replaceAll(/&(?:amp|lt|gt|quot|#39);/g, (entity) => ENTITIES[entity] ?? entity)

/** Where followed links lead, and the HTML in which they do. */
export interface Rewritten {
  html: string
  urls: string[]
}

/** What the addresses of a message's links and picture are made of. */
export interface Addresses {
  link: (url: string) => string
  picture: string
}

/**
 * The HTML of a mail with parameters on its links, its links led over ours, and the picture that
 * tells of its opening, each as far as it is asked for. Links in `except` stay as they are.
 */
export function rewriteHtml(
  html: string,
  { links, opens, parameters }: Tracking,
  addresses: Addresses,
  except: readonly string[],
): Rewritten {
  const urls: string[] = []
  const rewritten = html.replaceAll(HREF, (all, before: string, href: string, after: string) => {
    const url = unescaped(href)
    if (except.includes(url)) return all
    const target = withParameters(url, parameters)
    if (!links) return `${before}${escapeHtml(target)}${after}`
    urls.push(target)
    return `${before}${escapeHtml(addresses.link(target))}${after}`
  })
  if (!opens) return { html: rewritten, urls }
  const picture = `<img src="${escapeHtml(addresses.picture)}" alt="" width="1" height="1" style="display:block;width:1px;height:1px;border:0">`
  return { html: rewritten.replace(/<\/body>/i, `${picture}</body>`), urls }
}

const URL_IN_TEXT = /https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)]/g

/** The web addresses in a text, each once. */
export const urlsIn = (text: string): string[] => [...new Set(text.match(URL_IN_TEXT))]

/** A text with each web address in place of which there is another. */
export function withShortLinks(text: string, short: ReadonlyMap<string, string>): string {
  return text.replaceAll(URL_IN_TEXT, (url) => short.get(url) ?? url)
}
