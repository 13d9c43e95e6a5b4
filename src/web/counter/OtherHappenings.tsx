import { useState, type ReactNode } from 'react'
import type { CounterHappening } from '../../contract/counter.ts'
import { send } from '../ui/api.ts'
import { ChoiceField, TextField } from '../ui/fields.tsx'
import type { Customer } from './ChooseCustomer.tsx'
import { useAtCounter } from './useAtCounter.ts'

interface Props {
  customer: Customer | null
  lines: CounterHappening['lines']
  onDone: () => void
}

const STARS = { 5: '5 stars', 4: '4 stars', 3: '3 stars', 2: '2 stars', 1: '1 star' } as const
type Kind = CounterHappening['kind']

const SAID: Readonly<Record<Kind, string>> = {
  basket: 'A basket is left behind.',
  checkout: 'A checkout is left open.',
  view: 'A product is looked at.',
  subscription: 'A subscription is started.',
  review: 'A review is written.',
}

/** What can happen with the chosen customer and products besides an order. */
export function OtherHappenings({ customer, lines, onDone }: Props): ReactNode {
  const [stars, setStars] = useState<keyof typeof STARS>(5)
  const [text, setText] = useState('')
  const happen = useAtCounter(
    async (happening: CounterHappening) => {
      await send('POST', '/api/counter/happenings', happening)
      onDone()
    },
    ({ kind }) => SAID[kind],
  )
  const isReady = customer !== null && lines.length > 0 && !happen.isPending
  const press = (kind: Kind) => {
    if (!customer) return
    happen.mutate(
      kind === 'review' ? { kind, customer, lines, stars, text } : { kind, customer, lines },
    )
  }
  const button = (kind: Kind, label: string) => (
    <button type="button" className="btn btn-sm" disabled={!isReady} onClick={() => press(kind)}>
      {label}
    </button>
  )
  return (
    <details className="panel p-3">
      <summary className="cursor-pointer font-medium">Or something else happens with them</summary>
      <div className="mt-3 flex flex-wrap gap-2">
        {button('basket', 'Leave a basket')}
        {button('checkout', 'Leave a checkout open')}
        {button('view', 'Look at the first')}
        {button('subscription', 'Subscribe to the first')}
      </div>
      <div className="mt-3">
        <ChoiceField
          label="A review of the first"
          value={String(stars)}
          choices={STARS}
          onChange={(one) => setStars(Number(one) as keyof typeof STARS)}
        />
        <TextField label="In words, if there are any" value={text} onChange={setText} />
        {button('review', 'Write the review')}
      </div>
    </details>
  )
}
