import type { Block } from '../../../../core/blocks/blocks.ts'

/** Where something is on the screen, in CSS pixels from the corner of the sheet that is written on. */
export interface Box {
  left: number
  top: number
  width: number
  height: number
}

// The classes that a marked message has: `of-` on the whole band of a block, `is-` on what it shows.
const MARK = /(?:^|\s)(?:of|is)-([a-z][a-z0-9_-]{0,39})(?=$|\s|\.)/

/** The key of the innermost block that an element belongs to. */
export function keyAt(element: Element | null): string | null {
  for (let at = element; at; at = at.parentElement) {
    const [, key] = MARK.exec(at.className) ?? []
    if (key !== undefined) return key
  }
  return null
}

/** The elements that are drawn of a block: its whole band, or what it shows of it. */
export function elementsOf(document: Document, key: string, part: 'of' | 'is'): HTMLElement[] {
  const name = CSS.escape(`${part}-${key}`)
  // What a kept block stands for has keys that begin with its own.
  const found = document.querySelectorAll<HTMLElement>(`.${name}, [class*="${part}-${CSS.escape(key)}."]`) // prettier-ignore
  return [...found]
}

/** The whole of a block: its band, or what it shows where it stands in a column. */
export function drawnOf(document: Document, key: string): HTMLElement[] {
  const bands = elementsOf(document, key, 'of')
  return bands.length > 0 ? bands : elementsOf(document, key, 'is')
}

/** The box around elements of a frame's document, as seen from its host. Null where there are none. */
export function boxAround(
  elements: readonly Element[],
  frame: HTMLElement,
  host: HTMLElement,
): Box | null {
  if (elements.length === 0) return null
  const rects = elements.map((element) => element.getBoundingClientRect())
  const left = Math.min(...rects.map((rect) => rect.left))
  const top = Math.min(...rects.map((rect) => rect.top))
  const right = Math.max(...rects.map((rect) => rect.right))
  const bottom = Math.max(...rects.map((rect) => rect.bottom))
  const inner = frame.getBoundingClientRect()
  const outer = host.getBoundingClientRect()
  return {
    left: left + inner.left - outer.left,
    top: top + inner.top - outer.top,
    width: right - left,
    height: bottom - top,
  }
}

/** The element whose words a block's editor lies on: its text, its button, what stands above a code. */
export function wordsOf(document: Document, { key, kind }: Block): HTMLElement | null {
  const [cell] = elementsOf(document, key, 'is')
  return cell?.querySelector<HTMLElement>(kind === 'coupon' ? 'div > div' : 'a, div') ?? null
}

/** What something stands on: the first colour behind it that is one. */
export function groundOf(element: Element): string {
  for (let at: Element | null = element; at; at = at.parentElement) {
    const { backgroundColor } = getComputedStyle(at)
    if (backgroundColor !== 'transparent' && !/,\s*0\)$/.test(backgroundColor)) {
      return backgroundColor
    }
  }
  return '#ffffff'
}
