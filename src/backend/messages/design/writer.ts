import type { Brand } from '../../../core/messages/brand.ts'
import { FONTS } from '../../../core/messages/brand.ts'
import { templateParts } from '../../../core/messages/mergeFields.ts'
import type { Paragraph, Styled } from '../../../core/blocks/blocks.ts'
import { escapeHtml } from '../html.ts'
import { withoutTokens, type Slots } from './slots.ts'

/** Writes the words of blocks as HTML, with slots for what differs from one recipient to the next. */
export class Writer {
  readonly slots: Slots
  readonly brand: Brand
  /** Blocks can be found again in what is drawn, by classes: for those who write on it. */
  readonly isMarked: boolean

  constructor(slots: Slots, brand: Brand, isMarked = false) {
    this.slots = slots
    this.brand = brand
    this.isMarked = isMarked
  }

  /** Words with merge fields; a line break is one. */
  words(template: string): string {
    return this.#filled(template, 'text').replaceAll('\n', '<br>')
  }

  /** The same for an attribute that is no link. */
  attribute(template: string): string {
    return this.#filled(template, 'text')
  }

  link(template: string): string {
    return this.#filled(template.trim(), 'link')
  }

  /** With links in a colour. */
  paragraphs(paragraphs: readonly Paragraph[], link: string): string {
    const last = paragraphs.length - 1
    return paragraphs
      .map((one, index) => {
        const margin = `margin:0 0 ${index === last ? 0 : 14}px`
        if (one.kind === 'paragraph') return `<p style="${margin}">${this.#run(one.text, link)}</p>`
        const tag = one.ordered ? 'ol' : 'ul'
        const items = one.items.map(
          (item) => `<li style="margin:0 0 4px">${this.#run(item, link)}</li>`,
        )
        return `<${tag} style="${margin};padding:0 0 0 22px">${items.join('')}</${tag}>`
      })
      .join('')
  }

  get headingFont(): string {
    return escapeHtml(FONTS[this.brand.fonts.headings].stack)
  }

  get textFont(): string {
    return escapeHtml(FONTS[this.brand.fonts.text].stack)
  }

  #run(run: readonly Styled[], link: string): string {
    return run.map((styled) => this.#styled(styled, link)).join('')
  }

  #styled({ text, bold, italic, href }: Styled, link: string): string {
    let html = this.words(text)
    if (italic) html = `<em>${html}</em>`
    if (bold) html = `<strong>${html}</strong>`
    if (href === undefined) return html
    const style = `color:${link};text-decoration:underline`
    return `<a href="${this.link(href)}" style="${style}">${html}</a>`
  }

  #filled(template: string, as: 'text' | 'link'): string {
    return templateParts(withoutTokens(template))
      .map((part) =>
        typeof part === 'string'
          ? escapeHtml(part)
          : this.slots.token({ kind: 'field', field: part, as }),
      )
      .join('')
  }
}
