import type { Block, Paragraph, Styled } from '../../../../core/blocks/blocks.ts'

/** Makes blocks of HTML that somebody has: headings, texts, lists, images, buttons and lines, in their reading order. */
export function htmlBlocks(html: string): Block[] {
  const { body } = new DOMParser().parseFromString(html, 'text/html')
  const made = new Blocks()
  for (const odd of body.querySelectorAll('script, style, template, [hidden]')) odd.remove()
  made.take(body)
  return made.done()
}

/** Elements that hold others, one below the other. */
const HOLDS =
  /^(article|aside|body|center|div|footer|header|main|section|table|tbody|td|tfoot|th|thead|tr)$/
const INLINE = /^(a|abbr|b|br|code|em|font|i|small|span|strong|sub|sup|u)$/

/** Collects blocks; what is written between others becomes a paragraph. */
export class Blocks {
  readonly #blocks: Block[] = []
  #paragraphs: Paragraph[] = []
  #run: Styled[] = []
  #count = 0

  take(element: Element): void {
    for (const node of element.childNodes) {
      if (node.nodeType === Node.TEXT_NODE) this.#words(node.textContent ?? '', {})
      else if (node instanceof Element) this.#element(node)
    }
    this.#endParagraph()
  }

  done(): Block[] {
    this.#endText()
    return this.#blocks
  }

  add(make: (key: string) => Block): void {
    this.#endText()
    this.#count += 1
    this.#blocks.push(make(`block-${this.#count}`))
  }

  #element(element: Element): void {
    const tag = element.tagName.toLowerCase()
    if (/^h[1-6]$/.test(tag)) return this.#heading(element, tag === 'h1' ? 1 : 2)
    if (tag === 'img') return this.#image(element, null)
    if (tag === 'hr') return this.add((key) => ({ key, kind: 'divider' }))
    if (tag === 'ul' || tag === 'ol') return this.#list(element, tag === 'ol')
    if (tag === 'a' && this.#link(element)) return undefined
    if (tag === 'p') {
      this.#endParagraph()
      this.#inline(element, {})
      return this.#endParagraph()
    }
    if (INLINE.test(tag)) return this.#inline(element, {}, true)
    if (HOLDS.test(tag)) {
      this.#endParagraph()
      this.take(element)
    }
    return undefined
  }

  /** A link that looks like something to press, or around a picture. */
  #link(element: Element): boolean {
    const href = element.getAttribute('href') ?? ''
    const image = element.querySelector('img')
    const words = element.textContent?.trim() ?? ''
    if (image && words === '') {
      this.#image(image, href)
      return true
    }
    const style = `${element.getAttribute('style') ?? ''};${element.closest('td')?.getAttribute('bgcolor') ? 'background' : ''}`
    if (words === '' || !/background|padding|border-radius/i.test(style)) return false
    this.add((key) => ({ key, kind: 'button', label: words.slice(0, 120), href }))
    return true
  }

  #image(element: Element, href: string | null): void {
    const src = element.getAttribute('src') ?? ''
    const width = Number(element.getAttribute('width')) || 536
    // A picture of one pixel counts who opens; it is nothing to show.
    if (src === '' || width <= 2) return
    const alt = (element.getAttribute('alt') ?? '').slice(0, 300)
    this.add((key) => ({
      key,
      kind: 'image',
      src,
      alt,
      width: Math.min(600, Math.round(width)),
      ...(href !== null && href !== '' && { href }),
    }))
  }

  #heading(element: Element, level: 1 | 2): void {
    const text = (element.textContent ?? '').replaceAll(/\s+/g, ' ').trim().slice(0, 300)
    if (text !== '') this.add((key) => ({ key, kind: 'heading', level, text }))
  }

  #list(element: Element, ordered: boolean): void {
    this.#endParagraph()
    const items = [...element.querySelectorAll(':scope > li')].map((item) => {
      this.#inline(item, {})
      const run = trimmed(this.#run)
      this.#run = []
      return run
    })
    if (items.length > 0) this.#paragraphs.push({ kind: 'list', ordered, items })
  }

  #inline(element: Element, style: Omit<Styled, 'text'>, isSelf = false): void {
    const own = isSelf ? styleOf(element, style) : style
    if (element.tagName === 'BR') this.#run.push({ ...style, text: '\n' })
    for (const node of element.childNodes) {
      if (node.nodeType === Node.TEXT_NODE) this.#words(node.textContent ?? '', own)
      else if (node instanceof Element) {
        if (node.tagName === 'IMG') this.#image(node, null)
        else this.#inline(node, styleOf(node, own))
      }
    }
  }

  #words(words: string, style: Omit<Styled, 'text'>): void {
    const text = words.replaceAll(/\s+/g, ' ')
    if (text.trim() === '' && this.#run.length === 0) return
    this.#run.push({ ...style, text })
  }

  #endParagraph(): void {
    const text = trimmed(this.#run)
    this.#run = []
    if (text.length > 0) this.#paragraphs.push({ kind: 'paragraph', text })
  }

  #endText(): void {
    this.#endParagraph()
    const text = this.#paragraphs
    this.#paragraphs = []
    if (text.length === 0) return
    this.#count += 1
    this.#blocks.push({ key: `block-${this.#count}`, kind: 'text', text })
  }
}

function styleOf(element: Element, style: Omit<Styled, 'text'>): Omit<Styled, 'text'> {
  const tag = element.tagName.toLowerCase()
  const css = element.getAttribute('style') ?? ''
  const href = tag === 'a' ? element.getAttribute('href') : null
  return {
    ...style,
    ...((tag === 'b' || tag === 'strong' || /font-weight:\s*(bold|[6-9]00)/i.test(css)) && { bold: true }),
    ...((tag === 'i' || tag === 'em' || /font-style:\s*italic/i.test(css)) && { italic: true }),
    ...(href && { href }),
  }
} // prettier-ignore

/** A stretch of text without space at its ends, and without pieces that say nothing. */
function trimmed(run: readonly Styled[]): Styled[] {
  const own = run.map((one) => ({ ...one }))
  const [first] = own
  if (first) first.text = first.text.trimStart()
  const last = own.at(-1)
  if (last) last.text = last.text.trimEnd()
  return own.filter(({ text }) => text !== '')
}
