import type { Shop } from '../backend/shop/index.ts'
import { html, type Html } from './html.ts'

interface Content {
  text: string
  /** What can be agreed to. */
  button?: { action: string; label: string }
}

/** A page in the shop's colours that says one thing, and may ask one. */
export function shopPage(shop: Shop, { text, button }: Content): string {
  const form =
    button &&
    html`<form method="post" action="${button.action}"><button>${button.label}</button></form>`
  return shopFrame(
    shop,
    html`<p role="status">${text}</p>
      ${form ?? null}`,
  )
}

/** The frame of every page of a shop that people come to from a message. */
export function shopFrame({ name, brand: { colours } }: Shop, body: Html): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <meta name="robots" content="noindex" />
        <title>${name}</title>
        <style>
          body {
            font: 16px/1.5 sans-serif;
            max-width: 34rem;
            margin: 4rem auto;
            padding: 0 1rem;
            color: ${colours.ink};
          }
          h1 {
            font-size: 1.25rem;
          }
          h2 {
            font-size: 1rem;
            margin-top: 2rem;
          }
          button {
            font: inherit;
            padding: 0.5rem 1rem;
            border: 0;
            border-radius: 4px;
            background: ${colours.accent};
            color: ${colours.onAccent};
          }
          [role='status'] {
            font-weight: bold;
          }
          small,
          li {
            color: #555;
          }
        </style>
      </head>
      <body>
        <h1>${name}</h1>
        ${body}
      </body>
    </html>`.text
}
