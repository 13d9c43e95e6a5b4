import { expect, test } from 'vitest'
import { followToken, readFollowToken, targetOf } from './follow.ts'
import { rewriteHtml, urlsIn, withShortLinks } from './rewrite.ts'

const HTML =
  '<html><body><a style="x" href="https://a.example/?x=1&amp;y=2">a</a><a href="mailto:b@c.example">b</a><a href="https://out.example/u/1">out</a></body></html>'
const ADDRESSES = { link: (url: string) => `https://y.example/l/${targetOf(url)}`, picture: 'https://y.example/o/1' } // prettier-ignore
const OUT = ['https://out.example/u/1']

test('links lead over ours, but not the way out and not addresses of mail', () => {
  const { html, urls } = rewriteHtml(HTML, { links: true, opens: true, parameters: 'z=3' }, ADDRESSES, OUT) // prettier-ignore
  expect(urls).toEqual(['https://a.example/?x=1&y=2&z=3'])
  expect(html).toContain(`href="https://y.example/l/${targetOf('https://a.example/?x=1&y=2&z=3')}"`)
  expect(html).toContain('href="mailto:b@c.example"')
  expect(html).toContain('href="https://out.example/u/1"')
  expect(html).toMatch(/<img src="https:\/\/y\.example\/o\/1"[^>]*><\/body>/)
})

test('each can be left out', () => {
  const only = rewriteHtml(HTML, { links: false, opens: false, parameters: 'z=3' }, ADDRESSES, OUT)
  expect(only.urls).toEqual([])
  expect(only.html).toContain('href="https://a.example/?x=1&amp;y=2&amp;z=3"')
  expect(only.html).not.toContain('<img')
  const nothing = { links: false, opens: false, parameters: '' }
  expect(rewriteHtml(HTML, nothing, ADDRESSES, OUT).html).toBe(HTML)
})

test('a token of ours is read, any other is not', () => {
  const about = { shopId: 's', message: 7 }
  const token = followToken('secret', about, 'target')
  expect(readFollowToken(['newer', 'secret'], token)).toEqual({ ...about, target: 'target' })
  expect(readFollowToken(['another'], token)).toBeNull()
  const [payload = '', signature = ''] = token.split('.')
  const other = Buffer.from(JSON.stringify(['s', 8, 'target'])).toString('base64url')
  expect(readFollowToken(['newer', 'secret'], `${other}.${signature}`)).toBeNull()
  expect(readFollowToken(['newer', 'secret'], payload)).toBeNull()
  expect(readFollowToken(['newer', 'secret'], '')).toBeNull()
})

test('web addresses in a text, without what ends the sentence', () => {
  const text = 'See https://a.example/x?y=1. And (https://b.example), or https://a.example/x?y=1!'
  expect(urlsIn(text)).toEqual(['https://a.example/x?y=1', 'https://b.example'])
  expect(withShortLinks(text, new Map([['https://b.example', 'https://y.example/s/1']]))).toBe(
    'See https://a.example/x?y=1. And (https://y.example/s/1), or https://a.example/x?y=1!',
  )
})
