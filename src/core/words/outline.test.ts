import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, end, happened, ordersEver, wait } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import { stepKeys } from '../workflow/lists.ts'
import { outlineOf, outlineText } from './outline.ts'

const context = { locale: 'en-IE', zone: 'Europe/Lisbon' }

const definition = aDefinition({
  name: 'After an order',
  description: 'For the outline.',
  trigger: { kind: 'event', event: 'order.fulfilled' },
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    {
      key: 's',
      kind: 'split',
      branches: [
        {
          key: 'first',
          name: 'First order',
          when: ordersEver(1),
          steps: [
            wait('w', 'P7D'),
            anEmail('guide', { purpose: 'marketing', subject: 'The guide' }),
          ],
        },
      ],
      otherwise: [],
    },
    { key: 'at', kind: 'wait', for: 'P1D', at: '09:00', weekdays: [1, 2] },
    {
      key: 'paid',
      kind: 'waitFor',
      event: 'order.paid',
      about: 'subject',
      limit: 'P2D',
      came: [],
      otherwise: [{ key: 'tag', kind: 'tag', change: 'add', tag: 'owes' }, end('e')],
    },
  ],
})

describe('the outline', () => {
  test('reads as sentences, set in by what is inside what', () => {
    expect(outlineText(definition, context)).toBe(`After an order
For the outline.

When an order is fulfilled:
A person may enter every time. Priority 50.
Leave before any message if this order was refunded since entry.
People part; the first that fits counts:
  - First order, if ordered exactly once ever:
    - Wait 7 days.
    - Email “guide”, to those who agreed to marketing: The guide
  - Everyone else: goes on.
Then, whoever is still on the way:
Wait 1 day, then until 09:00 local time on Mon, Tue.
Wait until an order is paid (this order), 2 days at most:
  - If it came: goes on.
  - If it did not:
    - Add the tag “owes”.
    - This path ends here.
That is all.
`)
  })

  test('has a line for every step and path, once (property)', () => {
    fc.assert(
      fc.property(definitions, (one) => {
        const keys = outlineOf(one, context).flatMap(({ place }) => {
          if (place?.kind === 'step') return place.key
          const named = place?.kind === 'branch' && place.branch !== null && place.branch !== 'came'
          return named ? (place.branch ?? []) : []
        })
        expect(keys.toSorted()).toEqual(stepKeys(one.steps).toSorted())
      }),
    )
  })
})
