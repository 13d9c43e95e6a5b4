import { expect, test } from 'vitest'
import { aDefinition, anEmail, on } from '../../../testing/builders.ts'
import { NOTICES, noticeStates } from './notices.ts'

const confirms = { id: 'w1', name: 'Confirmation', definition: aDefinition({ trigger: on('order.placed'), steps: [anEmail('m')] }) } // prettier-ignore
const news = { id: 'w2', name: 'News', definition: aDefinition({ trigger: on('order.placed'), steps: [anEmail('m', { purpose: 'marketing' })] }) } // prettier-ignore
const stateOf = (taken: Record<string, string>, live: (typeof confirms)[]) =>
  noticeStates(taken, live).find(({ key }) => key === 'order-confirmation')

test('the shop sends what no workflow does', () => {
  const states = noticeStates({}, [])
  expect(states).toHaveLength(NOTICES.length)
  expect(states.every(({ takenBy, trouble }) => takenBy === null && trouble === null)).toBe(true)
  expect(stateOf({}, [news])).toMatchObject({ trouble: null, candidates: [] })
})

test('both send it while a workflow does and has not taken it over', () => {
  expect(stateOf({}, [confirms])).toMatchObject({ trouble: 'both', candidates: [{ id: 'w1' }] })
  expect(stateOf({ 'order-confirmation': 'w1' }, [confirms])).toMatchObject({ takenBy: 'w1', trouble: null }) // prettier-ignore
})

test('neither does once the workflow is not live any more, or sends something else', () => {
  expect(stateOf({ 'order-confirmation': 'w1' }, [])).toMatchObject({ trouble: 'neither' })
  expect(stateOf({ 'order-confirmation': 'w2' }, [news])).toMatchObject({ trouble: 'neither' })
})
