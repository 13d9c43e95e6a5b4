import { execFile, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Arrival } from '../contract/arrivals.ts'
import { createApiKey } from '../backend/accounts/index.ts'
import { codeSamples, type CodeSample } from '../core/connections/samples.ts'
import { sampleEvent } from '../core/connections/sampleEvent.ts'
import { formatInstant } from '../core/shared/time.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, orderEvent, START } from '../testing/builders.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
let key: string
let url: string
const folder = mkdtempSync(join(tmpdir(), 'samples-'))
beforeAll(async () => {
  api = await makeApi()
  key = (await createApiKey(api.world.db, SHOP, 'web shop')).key
  url = `${await api.app.listen({ host: '127.0.0.1', port: 0 })}/v1/events`
})
afterAll(async () => {
  rmSync(folder, { recursive: true })
  await api.close()
})

const came = async (query = '') =>
  (await api.call('GET', `/api/events${query}`)).json<{ rows: Arrival[]; more: boolean }>()
const post = (payload: object) =>
  api.app.inject({ method: 'POST', url: '/v1/events', headers: { authorization: `Bearer ${key}`, 'content-type': 'application/cloudevents-batch+json' }, payload: JSON.stringify(payload) }) // prettier-ignore

/** How each sample is run; a language that is not on this machine is passed over. */
const RUN: Readonly<Record<CodeSample['language'], { file: string; program: string; args: string[] }>> = {
  curl: { file: 'send.sh', program: 'sh', args: [] },
  TypeScript: { file: 'send.mts', program: join(process.cwd(), 'node_modules/.bin/tsx'), args: [] },
  Python: { file: 'send.py', program: 'python3', args: [] },
} // prettier-ignore
const has = (language: CodeSample['language']): boolean =>
  spawnSync(language === 'curl' ? 'curl' : RUN[language].program, ['--version']).status === 0

describe('code samples', () => {
  test.each(['curl', 'TypeScript', 'Python'] as const)('in %s sends its event', async (language) => {
    if (!has(language)) return
    const event = sampleEvent('order.placed', { currency: 'EUR', id: `by ${language}`, time: formatInstant(START) })
    const { code } = codeSamples(url, event).find((one) => one.language === language) ?? { code: '' }
    const { file, program, args } = RUN[language]
    writeFileSync(join(folder, file), code)
    const { stdout } = await promisify(execFile)(program, [...args, join(folder, file)], { env: { ...process.env, YOMBLE_KEY: key } })
    expect(JSON.parse(stdout)).toMatchObject({ accepted: 1, refused: 0 })
    expect((await came()).rows[0]).toMatchObject({ type: 'order.placed', event: { id: `by ${language}` } })
  }) // prettier-ignore
})

describe('events that came', () => {
  test('with what they told and started; refused ones as they came, with why and who sent them', async () => {
    await api.world.publish(aDefinition({ trigger: on('order.paid'), steps: [anEmail('thanks')] }))
    const good = orderEvent('order.paid', START, { id: 'a1', number: 'A-1' })
    const wrong = { ...orderEvent('order.paid', START, { id: 'a2' }), time: 'soon' }
    await post([good, wrong, 7])
    await api.world.settle()
    const [taken] = (await came('?type=order.paid')).rows
    expect(taken).toMatchObject({ type: 'order.paid', started: 1, customer: { name: 'Ines Duarte' } })
    expect(taken?.words).toContain('A-1')
    const [none, refused] = (await came('?show=refused')).rows
    expect(refused).toMatchObject({ from: 'web shop', type: 'order.paid', problems: [{ path: 'time' }], event: wrong })
    expect(none).toMatchObject({ type: null, event: 7 })
    expect((await api.call('GET', '/api/events', undefined, { who: 'aoife' })).statusCode).toBe(403)
  }) // prettier-ignore

  test('page by page, each once', async () => {
    await post(Array.from({ length: 120 }, (_, n) => orderEvent('order.placed', START, { id: `m${n}` })))
    const keys: number[] = []
    let before = ''
    let more = true
    while (more) {
      const page = await came(`?type=order.placed${before}`)
      keys.push(...page.rows.map(({ key: one }) => one))
      before = `&before=${keys.at(-1)}`
      more = page.more
    }
    expect(keys.length).toBeGreaterThanOrEqual(120)
    expect(new Set(keys).size).toBe(keys.length)
  }) // prettier-ignore

  test('one is tried, and sent by hand', async () => {
    const event = sampleEvent('review.submitted', { currency: 'EUR', id: 'by hand', time: formatInstant(START) }) // prettier-ignore
    const tried = (body: unknown) => api.call('POST', '/api/events/try', { event: body })
    expect((await tried({ ...event, type: 'order.lost' })).json()).toMatchObject({
      problems: [{ path: 'type' }],
    })
    expect((await tried(event)).json()).toEqual({ problems: [], ignored: [] })
    const before = (await came()).rows[0]?.key
    expect((await came()).rows[0]?.key).toBe(before)
    expect((await api.call('POST', '/api/events', { event })).json()).toEqual({
      status: 'accepted',
    })
    expect((await api.call('POST', '/api/events', { event })).json()).toEqual({
      status: 'duplicate',
    })
    expect((await came()).rows[0]).toMatchObject({ type: 'review.submitted' })
  })
})
