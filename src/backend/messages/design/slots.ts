import type { ItemsBlock, ProductsBlock } from '../../../core/blocks/blocks.ts'
import type { BandColours } from '../../../core/messages/palette.ts'
import type { FieldPart } from '../../../core/messages/mergeFields.ts'

/** A place in a compiled design that is filled for each recipient. */
export type Slot =
  /** A merge field: as text, or as the whole or a part of a link. */
  | { kind: 'field'; field: FieldPart; as: 'text' | 'link' }
  /** What was ordered, left behind or subscribed to, in a table so many CSS pixels wide. */
  | { kind: 'rows'; block: ItemsBlock; colours: BandColours; width: number }
  /** The rows of what an order came to. */
  | { kind: 'summary'; rule: string; addresses: boolean }
  /** From here to the next `end` only where a block's condition holds and there is something to show. */
  | { kind: 'start'; block: string }
  | { kind: 'end' }
  /** The cells of recommended products. */
  | { kind: 'products'; block: ProductsBlock; colours: BandColours; width: number }
  | { kind: 'preview' }
  | { kind: 'subject' }
  | { kind: 'wayOut' }
  | { kind: 'orderData' }

/** HTML with places to fill. */
export type Segment = string | Slot

// From Unicode's private use area: they stand for nothing, and are taken out of everybody's text.
const OPEN = '\uE000'
const CLOSE = '\uE001'
const TOKEN = /\uE000(\d+)\uE001/g
const MARKS = /[\uE000\uE001]/g

/** Stands for slots while a design is on its way through MJML. */
export class Slots {
  readonly #slots: Slot[] = []

  /** The token that stands for a slot in text and attributes. */
  token(slot: Slot): string {
    this.#slots.push(slot)
    return `${OPEN}${this.#slots.length - 1}${CLOSE}`
  }

  /** Cuts what came of it at the tokens. */
  cut(html: string): Segment[] {
    const segments: Segment[] = []
    let from = 0
    for (const match of html.matchAll(TOKEN)) {
      segments.push(html.slice(from, match.index))
      const slot = this.#slots[Number(match[1])]
      if (slot) segments.push(slot)
      from = match.index + match[0].length
    }
    segments.push(html.slice(from))
    return segments
  }
}

/** Text that cannot be taken for a token. */
export const withoutTokens = (text: string): string => text.replaceAll(MARKS, '')
