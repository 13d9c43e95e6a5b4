import { expect, test } from 'vitest'
import { html } from './html.ts'

test('what comes from outside is escaped, wherever it stands; pieces are put together as they are', () => {
  const name = '<b title="x">Bee & "hive"</b>'
  const piece = html`<a href="${name}">${name}</a>`
  const escaped = '&lt;b title=&quot;x&quot;&gt;Bee &amp; &quot;hive&quot;&lt;/b&gt;'
  expect(piece.text).toBe(`<a href="${escaped}">${escaped}</a>`)
  expect(html`<p>${[piece, piece]}${null}${3}</p>`.text).toBe(`<p>${piece.text}${piece.text}3</p>`)
})
