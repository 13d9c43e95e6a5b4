import type { Block } from '../../../core/blocks/blocks.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import { RenderError } from '../renderError.ts'
import { compileDesign } from './compile.ts'
import { fill } from './fill.ts'
import { hiddenBlocks, type Filling } from './filling.ts'
import { designText } from './plainText.ts'

/** Larger mails are cut off by some mail programs, footer and all (common practice). */
export const MAX_HTML_BYTES = 102_400

/** Renders a designed email as HTML and as the same in plain text. Throws RenderError. */
export async function renderDesign(
  blocks: readonly Block[],
  brand: Brand,
  filling: Filling,
  { isMarketing, isMarked = false }: { isMarketing: boolean; isMarked?: boolean },
): Promise<{ html: string; text: string }> {
  const segments = await compileDesign(blocks, brand, {
    lang: filling.facts.shop.locale,
    hasWayOut: filling.wayOut !== null,
    hasOrderData: !isMarketing && filling.facts.order !== null,
    isMarked,
  })
  const hidden = hiddenBlocks(blocks, filling)
  const html = fill(segments, filling, hidden)
  if (Buffer.byteLength(html) > MAX_HTML_BYTES) {
    throw new RenderError('it is larger than 102 kB, where mail programs cut it off')
  }
  return { html, text: designText(blocks, brand, filling, hidden) }
}
