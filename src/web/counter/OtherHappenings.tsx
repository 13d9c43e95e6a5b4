import { useState, type ReactNode } from 'react'
import type { CounterHappening, PlaceOrderBody } from '../../contract/counter.ts'
import { send } from '../ui/data/api.ts'
import { ChoiceField, TextField } from '../ui/fields/fields.tsx'
import type { Customer } from './ChooseCustomer.tsx'
import { useAtCounter } from './useAtCounter.ts'

interface Props {
  customer: Customer | null
  lines: PlaceOrderBody['lines']
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
  signsUp: 'The customer has signed up.',
  detailsChange: 'Details of the customer have changed.',
  saysYes: 'They say yes to marketing by email.',
  saysNo: 'They say no to marketing by email.',
}

const OF_CUSTOMER = ['signsUp', 'detailsChange', 'saysYes', 'saysNo'] as const
const isOfCustomer = (kind: Kind): kind is (typeof OF_CUSTOMER)[number] =>
  OF_CUSTOMER.some((one) => one === kind)

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
  const press = (kind: Kind) => {
    if (!customer) return
    if (kind === 'review') happen.mutate({ kind, customer, lines, stars, text })
    else if (isOfCustomer(kind)) happen.mutate({ kind, customer })
    else happen.mutate({ kind, customer, lines })
  }
  const button = (kind: Kind, label: string) => {
    const isReady = customer !== null && (lines.length > 0 || isOfCustomer(kind))
    return (
      <button
        type="button"
        className="btn btn-sm"
        disabled={!isReady || happen.isPending}
        onClick={() => press(kind)}
      >
        {label}
      </button>
    )
  }
  return (
    <details className="panel p-3">
      <summary className="cursor-pointer font-medium">Or something else happens</summary>
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
      <h3 className="field-label mt-3">With the customer alone</h3>
      <div className="flex flex-wrap gap-2">
        {button('signsUp', 'Signs up')}
        {button('detailsChange', 'Details change')}
        {button('saysYes', 'Says yes to marketing')}
        {button('saysNo', 'Says no')}
      </div>
    </details>
  )
}
