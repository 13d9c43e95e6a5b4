import { addSegment } from '../backend/people/index.ts'
import type { Db } from '../backend/platform/db.ts'
import type { Condition } from '../core/conditions/condition.ts'

const orders = (op: 'atLeast' | 'exactly', times: number, days?: number): Condition => ({
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op, times },
  window: days === undefined ? { kind: 'ever' } : { kind: 'lastDays', days },
})

const SEGMENTS: Readonly<Record<string, Condition>> = {
  'Regulars: five orders in a year': orders('atLeast', 5, 365),
  'Bought once, a while ago': { kind: 'all', of: [orders('exactly', 1), { kind: 'not', of: orders('atLeast', 1, 120) }] },
  'Agreed to texts, lives in Portugal': {
    kind: 'all',
    of: [
      { kind: 'field', field: 'customer.smsConsent', op: 'is', value: true },
      { kind: 'field', field: 'customer.country', op: 'is', value: 'PT' },
    ],
  },
} // prettier-ignore

/** The segments that Maren has kept. */
export async function addSegments(db: Db, shopId: string): Promise<void> {
  for (const [name, condition] of Object.entries(SEGMENTS)) {
    await addSegment(db, shopId, { name, condition, person: 'Maren' })
  }
}
