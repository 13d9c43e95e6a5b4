import type { Block, LeafBlock } from '../../../../core/blocks/blocks.ts'
import { htmlBlocks } from './htmlBlocks.ts'

/**
 * Makes blocks of an MJML document: sections with several columns become columns, what stands in them texts, buttons,
 * images and lines. Returns null for what is no MJML.
 */
export function mjmlBlocks(source: string): Block[] | null {
  const document = new DOMParser().parseFromString(inHtml(source), 'text/html')
  const root = document.querySelector('mj-body')
  if (!root) return null
  const all = [...root.querySelectorAll('mj-section')].flatMap((section): Block[] => {
    const columns = [...section.querySelectorAll('mj-column')].map(leavesOf)
    const some = columns.filter((column) => column.length > 0)
    if (some.length < 2) return some.flat()
    const columnsBlock: Block = { key: 'columns', kind: 'columns', columns: some.slice(0, 4) }
    return [columnsBlock]
  })
  return numbered(all)
}

/** As HTML parses it: no element of MJML may end with a slash there. */
const inHtml = (source: string): string =>
  source.replaceAll(/<(mj-[a-z-]+)([^<>]*?)\/>/g, '<$1$2></$1>')

function leavesOf(column: Element): LeafBlock[] {
  return [...column.children].flatMap((element): LeafBlock[] => {
    const of = (name: string) => element.getAttribute(name) ?? ''
    switch (element.tagName.toLowerCase()) {
      case 'mj-text':
      case 'mj-table':
        return htmlBlocks(element.innerHTML).filter((block): block is LeafBlock => block.kind !== 'columns')
      case 'mj-button':
        return [{ key: 'b', kind: 'button', label: (element.textContent ?? '').trim().slice(0, 120), href: of('href') }]
      case 'mj-image': {
        const width = Math.min(600, Math.round(Number.parseFloat(of('width')) || 536))
        const href = of('href')
        return of('src') === '' ? [] : [{ key: 'i', kind: 'image', src: of('src'), alt: of('alt'), width, ...(href !== '' && { href }) }]
      }
      case 'mj-divider':
        return [{ key: 'd', kind: 'divider' }]
      case 'mj-raw':
        return [{ key: 'r', kind: 'html', html: element.innerHTML.trim() }]
      default:
        return []
    }
  })
} // prettier-ignore

/** Each block with a key of its own. */
function numbered(blocks: readonly Block[]): Block[] {
  let count = 0
  const fresh = <One extends Block>(block: One): One => {
    count += 1
    return { ...block, key: `block-${count}` }
  }
  return blocks.map((block) => {
    const own = fresh(block)
    if (own.kind !== 'columns') return own
    return { ...own, columns: own.columns.map((column) => column.map(fresh)) }
  })
}
