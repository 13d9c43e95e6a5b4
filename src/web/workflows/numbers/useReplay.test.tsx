import { fireEvent, screen } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, on, ordersEver } from '../../../testing/builders.ts'
import { NO_NUMBERS } from '../../testing/listItem.ts'
import { show } from '../../testing/screen.tsx'
import { useReplay } from './useReplay.ts'

const entering = (orders: number, subject = 'Thanks'): Definition =>
  aDefinition({
    trigger: on('order.placed', { filter: ordersEver(orders) }),
    steps: [anEmail('m', { subject })],
  })

function Count({ to }: { to: Definition }): ReactNode {
  const [definition, setDefinition] = useState(entering(1))
  const numbers = useReplay(definition, true)
  const said = numbers === undefined ? 'counting' : (numbers?.total.entered ?? 'none')
  return <button onClick={() => setDefinition(to)}>{said}</button>
}

/** The server counts as many as the order that is asked for. */
const counted = (body: unknown) => {
  const { trigger } = (body as { definition: Definition }).definition
  const entered = trigger.filter?.kind === 'history' ? trigger.filter.count.times : 0
  return {
    since: 0,
    oneIn: 1,
    numbers: {
      total: { ...NO_NUMBERS, entered, nextDueAt: null },
      steps: [],
      branches: [],
      earned: { steps: [], branches: [] },
      exclusions: [],
      onOlderVersions: 0,
    },
  }
}

const open = (to: Definition) => show(<Count to={to} />, { 'POST /api/workflows/replay': counted })

test('from the moment a condition is changed its old number is gone, until the new one has come', async () => {
  open(entering(4))
  fireEvent.click(await screen.findByRole('button', { name: '1' }))
  expect(screen.getByRole('button').textContent).toBe('counting')
  expect(await screen.findByRole('button', { name: '4' })).toBeDefined()
})

test('words decide nothing: while they are written the number stays, and nothing is asked', async () => {
  const asked = open(entering(1, 'Many thanks'))
  fireEvent.click(await screen.findByRole('button', { name: '1' }))
  expect(screen.getByRole('button').textContent).toBe('1')
  expect(asked).toHaveLength(1)
})
