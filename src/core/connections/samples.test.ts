import { expect, test } from 'vitest'
import { readCloudEvent } from '../events/cloudEvent.ts'
import { EVENT_TYPES } from '../events/eventTypes.ts'
import { codeSamples } from './samples.ts'
import { sampleEvent } from './sampleEvent.ts'

const about = { currency: 'EUR', id: 'e-1', time: '2026-04-14T09:20:00Z' }

test.each(EVENT_TYPES)('the sample of %s is one that is taken, whole', (type) => {
  expect(readCloudEvent(sampleEvent(type, about))).toMatchObject({ ok: true, ignored: [] })
})

test('samples hold the address and the whole event', () => {
  const event = sampleEvent('order.placed', about)
  for (const { code } of codeSamples('https://yomble.example/v1/events', event)) {
    expect(code).toContain('https://yomble.example/v1/events')
    expect(code).toContain(JSON.stringify(event, null, 2))
  }
})
