import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, START } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import { CUSTOMER_CHANNELS, type CustomerChannel, type Reachable } from '../channels/catalogue.ts'
import { advance } from './advance.ts'
import { compileProgram } from './compile.ts'
import { freshRun } from './runState.ts'
import type { CustomerMessageStep, Step } from './steps.ts'

/** A marketing message of each channel. */
const MESSAGES: { readonly [Channel in CustomerChannel]: CustomerMessageStep } = {
  email: anEmail('m', { purpose: 'marketing' }),
  sms: { key: 'm', kind: 'sms', name: 'Text', purpose: 'marketing', body: 'Hello' },
}

const CLOSED: Reachable = { address: null, consent: null, suppressed: 'bounced' }
const OPEN: Reachable = { address: 'there', consent: true, suppressed: null }

/** What the gates decide on a step when somebody is reached like this, and by no other channel. */
function decided(step: Step, channels: { [Channel in CustomerChannel]?: Reachable }) {
  const all = Object.fromEntries(CUSTOMER_CHANNELS.map((channel) => [channel, CLOSED]))
  const program = compileProgram(aDefinition({ steps: [step] }))
  const known = facts({ channels: { ...all, ...channels } })
  return advance(program, freshRun(program, START), known).decisions[0]
}

describe.each(CUSTOMER_CHANNELS)('by %s', (channel) => {
  const step = MESSAGES[channel]
  const others = CUSTOMER_CHANNELS.filter((one) => one !== channel)
  const asked = (own: Reachable) => decided(step, { [channel]: own })

  test('what is known of the other channels opens nothing and closes nothing', () => {
    expect(asked(OPEN)).toMatchObject({ kind: 'sends' })
    const elsewhere = Object.fromEntries(others.map((one) => [one, OPEN]))
    expect(decided(step, elsewhere)).toMatchObject({ kind: 'skipped' })
  })

  test.each([
    ['its address', { address: null }, { code: 'noAddress' }],
    ['its suppression', { suppressed: 'unsubscribed' }, { code: 'suppressed' }],
    ['its consent', { consent: null }, { code: 'noConsent', known: false }],
  ] as const)('%s is asked for', (_name, own, reason) => {
    expect(asked({ ...OPEN, ...own })).toMatchObject({ kind: 'skipped', reason })
  })
})

test('a note to staff asks the customer nothing', () => {
  const note: Step = { key: 'm', kind: 'note', name: 'Call them', to: ['care@example.org'], subject: 'Call', body: 'Now' } // prettier-ignore
  expect(decided(note, {})).toMatchObject({ kind: 'sends', gates: { hasAddress: true, consent: null } }) // prettier-ignore
})
