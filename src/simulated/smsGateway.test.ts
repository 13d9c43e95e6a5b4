import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { startSmsGateway, type ReceivedSms, type SimulatedSmsGateway } from './smsGateway.ts'

interface Heard {
  body: string
  authorization: string | undefined
}

let gateway: SimulatedSmsGateway
let taken: ReceivedSms[]
let sender: Server
let heard: Heard[]
/** What the sender answers to the reports that come, one after the other; then 200. */
let answers: number[]
let onHeard: () => void

const bodyOf = async (request: IncomingMessage) => {
  const chunks: Buffer[] = []
  for await (const chunk of request) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks).toString()
}

beforeEach(async () => {
  taken = []
  heard = []
  answers = []
  onHeard = () => undefined
  gateway = await startSmsGateway(
    async (sms) => {
      taken.push(sms)
    },
    { tryAgainMs: 1 },
  )
  const hear = async (request: IncomingMessage, response: ServerResponse) => {
    heard.push({ body: await bodyOf(request), authorization: request.headers.authorization })
    response.writeHead(answers.shift() ?? 200).end()
    onHeard()
  }
  sender = createServer((request, response) => void hear(request, response))
  await new Promise<void>((done) => sender.listen(0, '127.0.0.1', done))
})
afterEach(async () => {
  await gateway.close()
  sender.closeAllConnections()
  await new Promise((done) => sender.close(done))
})

const post = (sms: object) =>
  fetch(gateway.url, { method: 'POST', body: JSON.stringify(sms) }).then(({ status }) => status)

const target = () => ({
  url: `http://127.0.0.1:${(sender.address() as AddressInfo).port}/reports`,
  authorization: 'Bearer x',
})

/** Resolves when the sender has heard so many reports. */
const heardOf = (count: number) =>
  new Promise<void>((resolve) => {
    onHeard = () => heard.length >= count && resolve()
    onHeard()
  })

test('a message is taken once however often it is posted; what is none is refused', async () => {
  const sms = { id: 'a', to: '+351912345678', text: 'Hello' }
  expect(await post(sms)).toBe(202)
  expect(await post(sms)).toBe(202)
  expect(await post({ ...sms, id: 'b', to: '912345678' })).toBe(400)
  expect(await post({ ...sms, id: 'c', to: '+351912340000' })).toBe(422)
  expect(taken).toEqual([sms])
})

test('what became of messages is reported, also of those taken before anybody asked', async () => {
  await post({ id: 'a', to: '+351912345678', text: 'Hello' })
  gateway.reportTo(target())
  await post({ id: 'b', to: '+351912340001', text: 'Hello' })
  await post({ id: 'b', to: '+351912340001', text: 'Hello' })
  await heardOf(2)
  expect(heard.map(({ body }) => JSON.parse(body) as object)).toEqual([
    { id: 'a', status: 'delivered' },
    { id: 'b', status: 'failed' },
  ])
  expect(heard[0]?.authorization).toBe('Bearer x')
})

test('a sender that does not know the message yet hears of it again', async () => {
  answers = [404, 500]
  gateway.reportTo(target())
  await post({ id: 'a', to: '+351912345678', text: 'Hello' })
  await heardOf(3)
  expect(new Set(heard.map(({ body }) => body))).toEqual(
    new Set([JSON.stringify({ id: 'a', status: 'delivered' })]),
  )
})
