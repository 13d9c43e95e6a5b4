import type { PersonData } from '../backend/people/index.ts'
import type { Shop } from '../backend/shop/index.ts'
import { clockWords } from '../core/words/quantities.ts'
import { html, type Html } from './html.ts'

/** Everything that is known of somebody, as a page to be read or printed. */
export function personDataPage(shop: Shop, { person, parts }: PersonData): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="robots" content="noindex" />
        <title>What ${shop.name} knows of you</title>
        <style>
          body {
            font: 15px/1.5 sans-serif;
            max-width: 60rem;
            margin: 2rem auto;
            padding: 0 1rem;
          }
          h2 {
            margin-top: 2.5rem;
          }
          dl {
            display: grid;
            grid-template-columns: 12rem 1fr;
            gap: 0 1rem;
            padding: 0.5rem 0;
            border-top: 1px solid #ddd;
          }
          dt {
            color: #555;
          }
          dd {
            margin: 0;
            overflow-wrap: anywhere;
          }
        </style>
      </head>
      <body>
        <h1>What ${shop.name} knows of you</h1>
        <p>Times are those of ${shop.zone}.</p>
        ${facts(person, shop.zone)}
        ${Object.entries(parts).map(
          ([name, rows]) =>
            html`<h2>${spaced(name)} (${String(rows.length)})</h2>
              ${rows.map((one) => facts(one, shop.zone))}`,
        )}
      </body>
    </html>`.text
}

function facts(of: Record<string, unknown>, zone: string): Html {
  const known = Object.entries(of).filter(([, value]) => value !== null && value !== '')
  return html`<dl>
    ${known.map(
      ([name, value]) =>
        html`<dt>${spaced(name)}</dt>
          <dd>${valueWords(name, value, zone)}</dd>`,
    )}
  </dl>`
}

const spaced = (name: string): string =>
  name.replaceAll('_', ' ').replaceAll(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`)

/** Moments are numbers of milliseconds, and named for what they are. */
const IS_MOMENT = /(^|_)(at|time|until|since|of|after|before)$/

function valueWords(name: string, value: unknown, zone: string): string {
  if (typeof value === 'number' && IS_MOMENT.test(name) && value > 1e10) return clockWords(value, zone) // prettier-ignore
  return typeof value === 'string' ? value : JSON.stringify(value)
}
