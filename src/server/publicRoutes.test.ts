import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { makeApi, type Api } from '../testing/api.ts'
import { OPERATIONS } from './documented/operations.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

/** Whatever nobody has to sign in for. */
const open = [...OPERATIONS].filter(([, { access }]) => access === 'open').map(([key]) => key.split(' ') as ['GET' | 'POST' | 'PUT' | 'DELETE', string]) // prettier-ignore
/** Those of which whoever supervises this may ask as often as it likes, and those that answer out of memory; pictures, which large providers fetch for all their readers. */
const UNLIMITED = new Set(['/livez', '/readyz', '/metrics', '/api/openapi.json', '/api/problems', '/api/schema/workflow.json', '/api/session', '/files/{id}']) // prettier-ignore

const ask = (method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, payload?: string | Buffer) =>
  api.app.inject({
    method,
    url: path.replaceAll(/\{\w+\}/g, 'nothing'),
    headers: { origin: 'http://localhost:8080', ...(payload && { 'content-type': 'application/json' }) }, // prettier-ignore
    ...(payload && { payload }),
  })

describe.each(open)('%s %s, which is open to everybody', (method, path) => {
  test('says with every answer what a browser may do with it', async () => {
    const { headers } = await ask(method, path)
    expect(headers['content-security-policy']).toContain("default-src 'self'")
    expect(headers['x-content-type-options']).toBe('nosniff')
    expect(headers['referrer-policy']).toBe('no-referrer')
    expect(headers['x-powered-by']).toBeUndefined()
  })

  test.skipIf(UNLIMITED.has(path))('is asked so often and no oftener', async () => {
    const { headers } = await ask(method, path)
    expect(Number(headers['x-ratelimit-limit'])).toBeLessThanOrEqual(1200)
  })

  test.skipIf(method === 'GET')('refuses what is too large, and what is no JSON, without a word of what it was', async () => {
    const large = await ask(method, path, JSON.stringify({ x: 'y'.repeat(3_000_000) }))
    expect(large.statusCode).toBeGreaterThanOrEqual(400)
    expect(large.statusCode).toBeLessThan(500)
    const odd = await ask(method, path, '{"secret-thing"')
    expect(odd.statusCode).toBeLessThan(500)
    expect(odd.body).not.toContain('secret-thing')
  }) // prettier-ignore
})
