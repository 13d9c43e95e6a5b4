import type { ReactNode } from 'react'
import {
  counterReview,
  type CounterHappening,
  type PlaceOrderBody,
} from '../../contract/counter.ts'
import { plural } from '../../core/words/quantities.ts'
import { send } from '../ui/data/api.ts'
import { Field } from '../ui/fields/fields.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import type { Customer } from './ChooseCustomer.tsx'
import { useAtCounter } from './useAtCounter.ts'

interface Props {
  customer: Customer | null
  lines: PlaceOrderBody['lines']
  onDone: () => void
}

const STARS = [5, 4, 3, 2, 1].map((stars) => [stars, plural(stars, 'star')] as const)
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
  const review = useZodForm(counterReview, { stars: 5, text: '' })
  const happen = useAtCounter(
    async (happening: CounterHappening) => {
      await send('POST', '/api/counter/happenings', happening)
      onDone()
    },
    ({ kind }) => SAID[kind],
  )
  const press = (kind: Kind) => {
    if (!customer) return
    if (kind === 'review') {
      void review.handleSubmit((said) => happen.mutate({ kind, customer, lines, ...said }))()
    } else if (isOfCustomer(kind)) happen.mutate({ kind, customer })
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
        <Field label="A review of the first">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full"
              {...review.register('stars', { valueAsNumber: true })}
            >
              {STARS.map(([stars, words]) => (
                <option key={stars} value={stars}>
                  {words}
                </option>
              ))}
            </select>
          )}
        </Field>
        <FormField
          small
          className="mb-3"
          label="In words, if there are any"
          field={review.register('text')}
          problem={review.formState.errors.text}
        />
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
