import type { FollowedLink } from '../../../../core/messages/ownLinks.ts'
import { percentWords } from '../../../ui/figures/percent.ts'

const MARK = [
  'display:inline-block', 'margin:0 0 0 4px', 'padding:0 6px', 'border-radius:8px', 'vertical-align:middle',
  'background:#ffd84d', 'color:#1d2a2e', 'font:600 11px/17px monospace', 'text-decoration:none', 'white-space:nowrap',
].join(';') // prettier-ignore

/**
 * A mail with how many followed each link written beside it. Several links to one place share what is known of it:
 * which of them was meant nobody can tell.
 */
export function markLinks(html: string, links: readonly FollowedLink[], delivered: number): string {
  const page = new DOMParser().parseFromString(html, 'text/html')
  for (const anchor of page.querySelectorAll('a[href]')) {
    const followed = followedOf(anchor.getAttribute('href') ?? '', links)
    if (!followed) continue
    const mark = page.createElement('span')
    mark.setAttribute('style', MARK)
    mark.textContent = delivered === 0 ? String(followed.people) : `${percentWords(followed.people / delivered)} · ${followed.people}` // prettier-ignore
    anchor.append(mark)
  }
  return `<!doctype html>${page.documentElement.outerHTML}`
}

/** What is known of an address: of itself, or of the place under which everybody has one of their own. */
function followedOf(href: string, links: readonly FollowedLink[]): FollowedLink | undefined {
  const url = href.replace(/[?#].*$/, '')
  return (
    links.find((link) => link.url === url) ??
    links.find((link) => link.url.endsWith('…') && url.startsWith(link.url.slice(0, -1)))
  )
}
