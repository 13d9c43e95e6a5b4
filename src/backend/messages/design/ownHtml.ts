import sanitize from 'sanitize-html'
import { templateParts } from '../../../core/messages/mergeFields.ts'
import { RenderError } from '../renderError.ts'
import { withoutTokens } from './slots.ts'
import type { Writer } from './writer.ts'

const STYLES = [
  'background-color', 'border', 'border-bottom', 'border-collapse', 'border-radius', 'border-top', 'color', 'font-family', 'font-size',
  'font-style', 'font-weight', 'height', 'letter-spacing', 'line-height', 'margin', 'max-width', 'padding', 'text-align',
  'text-decoration', 'text-transform', 'vertical-align', 'width',
] // prettier-ignore
/** Nothing that loads or runs. */
const HARMLESS = [/^(?!.*(?:url|expression|javascript)\s*[(:])[^<>{}]{1,200}$/i]

/**
 * Somebody's own HTML with all taken out that mail programs refuse or that could do harm: scripts,
 * forms, frames, handlers, links that are none. Merge fields may stand in its text. Throws
 * RenderError where one stands in a tag.
 */
export function cleanHtml(html: string, { slots }: Writer): string {
  const clean = sanitize(withoutTokens(html), {
    allowedTags: [
      'a', 'b', 'blockquote', 'br', 'center', 'code', 'div', 'em', 'h1', 'h2', 'h3', 'h4', 'hr', 'i', 'img', 'li', 'ol', 'p', 'pre',
      's', 'small', 'span', 'strong', 'sub', 'sup', 'table', 'tbody', 'td', 'tfoot', 'th', 'thead', 'tr', 'u', 'ul',
    ], // prettier-ignore
    allowedAttributes: {
      '*': ['style', 'align', 'valign', 'width', 'height', 'bgcolor', 'lang', 'dir', 'role'],
      a: ['href', 'title'],
      img: ['src', 'alt'],
      td: ['colspan', 'rowspan'],
      th: ['colspan', 'rowspan', 'scope'],
      table: ['cellpadding', 'cellspacing', 'border'],
    },
    allowedStyles: { '*': Object.fromEntries(STYLES.map((name) => [name, HARMLESS])) },
    allowedSchemes: ['https', 'http', 'mailto', 'tel'],
    allowProtocolRelative: false,
  })
  let isInTag = false
  return templateParts(clean)
    .map((part) => {
      if (typeof part !== 'string') {
        if (isInTag) throw new RenderError('in own HTML, merge fields can stand in the text only')
        return slots.token({ kind: 'field', field: part, as: 'text' })
      }
      isInTag = part.lastIndexOf('<') > part.lastIndexOf('>')
      return part
    })
    .join('')
}
