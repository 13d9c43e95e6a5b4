import { escapeHtml } from '../backend/messages/index.ts'
import type { Shop } from '../backend/shop/index.ts'

interface Content {
  text: string
  /** What can be agreed to. */
  button?: { action: string; label: string }
}

/** A page in the shop's colours that says one thing, and may ask one. */
export function shopPage(shop: Shop, { text, button }: Content): string {
  const form = button
    ? `<form method="post" action="${escapeHtml(button.action)}"><button>${escapeHtml(button.label)}</button></form>`
    : ''
  return shopFrame(shop, `<p role="status">${escapeHtml(text)}</p>${form}`)
}

/** The frame of every page of a shop that people come to from a message; `body` is HTML. */
export function shopFrame({ name, brand: { colours } }: Shop, body: string): string {
  const title = escapeHtml(name)
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex">
<title>${title}</title><style>body{font:16px/1.5 sans-serif;max-width:34rem;margin:4rem auto;padding:0 1rem;color:${colours.ink}}
h1{font-size:1.25rem}h2{font-size:1rem;margin-top:2rem}button{font:inherit;padding:.5rem 1rem;border:0;border-radius:4px;background:${colours.accent};color:${colours.onAccent}}
[role=status]{font-weight:bold}small,li{color:#555}</style></head><body>
<h1>${title}</h1>
${body}
</body></html>`
}
