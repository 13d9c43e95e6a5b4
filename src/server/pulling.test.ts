import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { Evaluator, pullDue } from '../backend/connections/index.ts'
import type { ConnectionDetail } from '../contract/connections.ts'
import { sampleEvent } from '../core/connections/sampleEvent.ts'
import { makeApi, type Api } from '../testing/api.ts'

/** Somebody else's shop, which lists its orders in pages and sends nothing by itself. */
interface Page {
  status?: number
  etag?: string
  body?: unknown
}
let pages: Record<string, Page> = {}
let asked: { url: string; headers: IncomingHttpHeaders }[] = []
const evaluator = new Evaluator()
let elsewhere: Server
let base: string
let api: Api
let id: string

beforeAll(async () => {
  api = await makeApi()
  elsewhere = createServer((request, response) => {
    const url = request.url ?? ''
    asked.push({ url, headers: request.headers })
    const { status = 200, etag, body } = pages[url] ?? { status: 404 }
    const isSame = etag !== undefined && request.headers['if-none-match'] === etag
    response.writeHead(isSame ? 304 : status, { 'content-type': 'application/json', ...(etag && { etag }) })
    response.end(isSame ? '' : JSON.stringify(body ?? null))
  }).listen(0, '127.0.0.1')
  await once(elsewhere, 'listening')
  base = `http://127.0.0.1:${(elsewhere.address() as AddressInfo).port}`
  id = (await api.call('POST', '/api/connections', { name: 'Old shop' })).json<{ id: string }>().id
  await change({ mapping: 'orders' })
}) // prettier-ignore
afterEach(() => {
  pages = {}
  asked = []
})
afterAll(async () => {
  await evaluator.close()
  elsewhere.close()
  await api.close()
})

const change = (to: object) => api.call('PUT', `/api/connections/${id}`, to)
const rule = (over: object = {}) => ({ url: `${base}/orders`, everyMinutes: 15, next: 'next', ...over }) // prettier-ignore
const pulled = async (allowPrivate = true) => {
  await pullDue({ db: api.world.db, evaluator, allowPrivate })
  return (await api.call('GET', `/api/connections/${id}`)).json<ConnectionDetail>()
}
const orders = (...ids: string[]) =>
  ids.map((one) => sampleEvent('order.placed', { currency: 'EUR', id: one, time: '2026-04-14T08:00:00Z' })) // prettier-ignore

test('page after page is fetched, each event once, and later only what has changed', async () => {
  pages = {
    '/orders': { etag: '"1"', body: { orders: orders('a', 'b'), next: '/orders?page=2' } },
    '/orders?page=2': { body: { orders: orders('c'), next: null } },
  }
  expect((await change({ pull: rule({ authorization: 'Bearer s3cret' }) })).statusCode).toBe(204)
  expect((await pulled()).pulled).toMatchObject({ problem: null, pages: 2, fresh: 3 })
  expect(asked.map(({ headers }) => headers.authorization)).toEqual(['Bearer s3cret', 'Bearer s3cret']) // prettier-ignore
  // It is not its turn: nothing is asked.
  await pulled()
  expect(asked).toHaveLength(2)
  await change({ fetchNow: true })
  expect((await pulled()).pulled).toMatchObject({ problem: null, pages: 0, fresh: 0 })
  pages['/orders'] = { etag: '"2"', body: { orders: orders('d', 'a'), next: '/orders?page=2' } }
  await change({ fetchNow: true })
  const detail = await pulled()
  expect(detail.pulled).toMatchObject({ fresh: 1 })
  // What it authorises itself with is in no answer.
  expect(JSON.stringify(detail)).not.toContain('s3cret')
  expect(detail.pull).toMatchObject({ isAuthorized: true })
})

test('a feed that always names a next page is followed to its end, and taken up there', async () => {
  pages = {
    '/feed?after=0': { body: { orders: orders('f1'), cursor: 1 } },
    '/feed?after=1': { body: { orders: [], cursor: 2 } },
  }
  await change({ pull: rule({ url: `${base}/feed?after=0`, next: '"?after=" & cursor' }) })
  expect((await pulled()).pulled).toMatchObject({ pages: 2, fresh: 1 })
  pages['/feed?after=2'] = { body: { orders: orders('f2'), cursor: 2 } }
  await change({ fetchNow: true })
  expect((await pulled()).pulled).toMatchObject({ problem: null, fresh: 1 })
  expect(asked.at(-1)?.url).toBe('/feed?after=2')
  // Its end names itself: there it is looked again, and not at the beginning.
  asked = []
  await change({ fetchNow: true })
  expect((await pulled()).pulled).toMatchObject({ problem: null, fresh: 0 })
  expect(asked.map(({ url }) => url)).toEqual(['/feed?after=2'])
})

test('what is new is found on the last page as on the first, whatever is known before it', async () => {
  const page = (ids: string[], next: string | null) => ({ body: { orders: orders(...ids), next } })
  pages = { '/orders': page(['n1', 'n2'], '/orders?page=2'), '/orders?page=2': page(['n3'], null) }
  await change({ pull: rule() })
  expect((await pulled()).pulled).toMatchObject({ fresh: 3 })
  pages['/orders?page=2'] = page(['n3', 'n4'], null)
  await change({ fetchNow: true })
  expect((await pulled()).pulled).toMatchObject({ pages: 2, fresh: 1 })
  pages['/orders'] = page(['n5', 'n1', 'n2'], '/orders?page=2')
  await change({ fetchNow: true })
  expect((await pulled()).pulled).toMatchObject({ pages: 2, fresh: 1, refused: 0 })
})

test('a page that cannot be mapped is counted, kept, and mapped once the mapping is mended', async () => {
  pages = { '/orders': { body: { list: orders('m1'), next: null } } }
  await change({ mapping: 'list.(1 + type)', pull: rule() })
  expect((await pulled()).pulled).toMatchObject({ problem: null, pages: 1, fresh: 0, refused: 1 })
  await change({ mapping: 'list' })
  expect((await api.call('POST', `/api/connections/${id}/replay`)).json()).toMatchObject({
    taken: 1,
  })
  await change({ mapping: 'orders' })
})

test('the secret is sent to nobody whom a page names', async () => {
  const other = createServer((request, response) => {
    asked.push({ url: 'other', headers: request.headers })
    response.end('{"orders":[]}')
  }).listen(0, '127.0.0.1')
  await once(other, 'listening')
  const next = `http://127.0.0.1:${(other.address() as AddressInfo).port}/`
  pages = { '/orders': { body: { orders: orders('g'), next } } }
  await change({ pull: rule({ authorization: 'Bearer s3cret' }) })
  await pulled()
  expect(asked.map(({ url, headers }) => [url, headers.authorization])).toEqual([['/orders', 'Bearer s3cret'], ['other', undefined]]) // prettier-ignore
  other.close()
})

test.each([
  ['an error', { status: 500 }, /answered 500/],
  ['what is no page', { body: { orders: orders('h'), next: 7 } }, /no text/],
  ['more than a megabyte', { body: 'x'.repeat(1_100_000) }, /1 MB/],
] as const)('%s is said, and tried again at its time', async (_, page, said) => {
  pages = { '/orders': page }
  await change({ pull: rule() })
  expect((await pulled()).pulled?.problem).toMatch(said)
})

test('nothing within the own network is fetched', async () => {
  await change({ pull: rule() })
  expect((await pulled(false)).pulled?.problem).toMatch(/may not be reached/)
  expect(asked).toEqual([])
  expect((await change({ pull: rule({ url: 'file:///etc/passwd' }) })).statusCode).toBe(400)
})
