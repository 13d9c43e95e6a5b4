import { paragraphs } from '../../core/messages/text.ts'
import { escapeHtml } from './html.ts'

const URL = /https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)]/g

/** Escaped text in which web addresses are links. */
function linked(text: string): string {
  let html = ''
  let from = 0
  for (const match of text.matchAll(URL)) {
    const url = escapeHtml(match[0])
    html += `${escapeHtml(text.slice(from, match.index))}<a href="${url}" style="color:#0f5d5a">${url}</a>`
    from = match.index + match[0].length
  }
  return html + escapeHtml(text.slice(from))
}

export interface Letter {
  shopName: string
  subject: string
  previewText: string
  /** Plain text; empty lines part paragraphs. */
  body: string
  unsubscribeUrl: string | null
  /** What the way out is called. */
  wayOut: string
  /** As BCP 47 writes it. */
  language: string
  /** Stands under what is marketing; empty elsewhere. */
  postalAddress: string
}

/** A rendered text as a simple HTML letter: one column, inline styles, nothing to load. */
export function letterHtml(letter: Letter): string {
  const body = paragraphs(letter.body)
    .map((lines) => `<p style="margin:0 0 16px">${lines.map(linked).join('<br>')}</p>`)
    .join('\n')
  const preview = letter.previewText
    ? `<div style="display:none;max-height:0;overflow:hidden">${escapeHtml(letter.previewText)}</div>`
    : ''
  const unsubscribe = letter.unsubscribeUrl
    ? `<p style="margin:0"><a href="${escapeHtml(letter.unsubscribeUrl)}" style="color:#5c6663">${escapeHtml(letter.wayOut)}</a></p>`
    : ''
  return `<!doctype html>
<html lang="${escapeHtml(letter.language)}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${escapeHtml(letter.subject)}</title>
</head>
<body style="margin:0;background:#f5f1e8;color:#1d2826;font:16px/1.5 Helvetica,Arial,sans-serif">
${preview}
<table role="presentation" width="100%" cellpadding="0" cellspacing="0"><tr><td align="center" style="padding:24px 12px">
<table role="presentation" width="560" cellpadding="0" cellspacing="0" style="max-width:560px;width:100%;background:#ffffff"><tr><td style="padding:32px">
<p style="margin:0 0 24px;font-weight:bold">${escapeHtml(letter.shopName)}</p>
${body}
</td></tr></table>
<table role="presentation" width="560" cellpadding="0" cellspacing="0" style="max-width:560px;width:100%"><tr><td style="padding:16px 32px;font-size:13px;color:#5c6663">
<p style="margin:0">${escapeHtml(letter.postalAddress || letter.shopName)}</p>
${unsubscribe}
</td></tr></table>
</td></tr></table>
</body>
</html>
`
}
