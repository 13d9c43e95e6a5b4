import { expect, test } from 'vitest'
import { changesIn } from './changesIn.ts'

test('only what differs is named, with what stood before', () => {
  const before = { messageGap: 'PT20H', quietHours: { from: '21:00', to: '08:00' }, hookSecret: '…' }
  const after = { messageGap: null, quietHours: { from: '21:00', to: '08:00' }, caps: [] }
  expect(changesIn(before, after)).toEqual([
    { name: 'messageGap', from: 'PT20H', to: 'null' },
    { name: 'caps', to: '[]' },
  ])
}) // prettier-ignore

test('what was removed is named as it was; what began has nothing before; nothing at all says nothing', () => {
  expect(changesIn({ name: 'Web shop' }, null)).toEqual([{ name: 'name', from: 'Web shop' }])
  expect(changesIn(null, { name: 'Web shop' })).toEqual([{ name: 'name', to: 'Web shop' }])
  expect(changesIn(null, null)).toEqual([])
  expect(changesIn(null, { text: 'x'.repeat(400) })[0]?.to).toHaveLength(302)
})
