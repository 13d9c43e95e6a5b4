import type { ReactNode } from 'react'
import { AreaField, ChoiceField, NumberField, TextField } from '../../../ui/fields/fields.tsx'
import { useShop } from '../../../ui/data/shop.tsx'
import { MoneyInput } from '../../../ui/conditions/MoneyInput.tsx'
import { CouponTerms } from '../fields/CouponTerms.tsx'
import { DurationField } from '../fields/DurationField.tsx'
import type { FormProps } from '../formProps.ts'
import { StepActions } from '../actions/StepActions.tsx'
import { stepChanger, type StepOf } from '../stepChange.ts'
import { TickField } from '../../../ui/fields/TickField.tsx'

const DISCOUNTS = { percent: 'a percentage', amount: 'an amount' } as const

export function CouponForm({ step, ...form }: FormProps & { step: StepOf<'coupon'> }): ReactNode {
  const change = stepChanger<'coupon'>(form, step)
  const { currency } = useShop()
  const { discount } = step
  return (
    <>
      <h2 className="mb-3 text-base">Coupon</h2>
      <TextField label="Name" value={step.name} onChange={(name) => change({ name }, 'name')} />
      <TextField
        label="Code: every # becomes a letter or digit; without one, all share it"
        value={step.pattern}
        onChange={(pattern) => pattern !== '' && change({ pattern }, 'pattern')}
      />
      <ChoiceField
        label="Worth"
        value={discount.kind}
        choices={DISCOUNTS}
        onChange={(kind) =>
          change({
            discount:
              kind === 'percent'
                ? { kind, percent: 10 }
                : { kind, amount: { amountMinor: 500, currency } },
          })
        }
      />
      {discount.kind === 'percent' ? (
        <NumberField
          label="Per cent off"
          value={discount.percent}
          min={0}
          max={100}
          onChange={(percent) => change({ discount: { kind: 'percent', percent } }, 'percent')}
        />
      ) : (
        <div className="mb-3">
          <MoneyInput
            label="Amount off"
            value={discount.amount}
            onChange={(amount) => change({ discount: { kind: 'amount', amount } }, 'amount')}
          />
        </div>
      )}
      <TickField
        className="mb-2"
        checked={step.expiresAfter !== undefined}
        onChange={(checked) => change({ expiresAfter: checked ? 'PT24H' : undefined })}
      >
        expires
      </TickField>
      {step.expiresAfter !== undefined && (
        <DurationField
          label="After it is issued"
          value={step.expiresAfter}
          onChange={(expiresAfter) => change({ expiresAfter }, 'expires')}
        />
      )}
      <CouponTerms step={step} onChange={change} />
      <p className="text-xs text-secondary">
        {step.pattern.includes('#')
          ? 'Everyone gets a code of their own, once.'
          : 'All get the same code.'}{' '}
        Messages after this step print it as{' '}
        <code className="font-mono">{'{{ coupon.code }}'}</code>.
      </p>
      <StepActions {...form} stepKey={step.key} what="this coupon" />
    </>
  )
}

const TAG_CHANGES = { add: 'add the tag', remove: 'remove the tag' } as const
const LIST_CHANGES = { add: 'add to the list', remove: 'remove from the list' } as const

export function TagForm({ step, ...form }: FormProps & { step: StepOf<'tag'> }): ReactNode {
  const change = stepChanger<'tag'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Tag</h2>
      <ChoiceField
        label="What to do"
        value={step.change}
        choices={TAG_CHANGES}
        onChange={(next) => change({ change: next })}
      />
      <TextField label="Tag" value={step.tag} onChange={(tag) => change({ tag }, 'tag')} />
      <StepActions {...form} stepKey={step.key} what="this step" />
    </>
  )
}

export function ListForm({ step, ...form }: FormProps & { step: StepOf<'list'> }): ReactNode {
  const change = stepChanger<'list'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">List</h2>
      <ChoiceField
        label="What to do"
        value={step.change}
        choices={LIST_CHANGES}
        onChange={(next) => change({ change: next })}
      />
      <TextField label="List" value={step.list} onChange={(list) => change({ list }, 'list')} />
      <StepActions {...form} stepKey={step.key} what="this step" />
    </>
  )
}

export function PropertyForm({
  step,
  ...form
}: FormProps & { step: StepOf<'property'> }): ReactNode {
  const change = stepChanger<'property'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Property</h2>
      <TextField
        label="Name, in small letters"
        value={step.property}
        onChange={(text) => {
          const property = text.toLowerCase().replaceAll(/[^a-z0-9_-]/g, '_')
          change({ property: property.replace(/^[^a-z]+/, '').slice(0, 40) }, 'property')
        }}
      />
      <TextField
        label="Value"
        value={step.value}
        onChange={(value) => change({ value }, 'value')}
      />
      <StepActions {...form} stepKey={step.key} what="this step" />
    </>
  )
}

export function HookForm({ step, ...form }: FormProps & { step: StepOf<'hook'> }): ReactNode {
  const change = stepChanger<'hook'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Webhook</h2>
      <TextField label="Name" value={step.name} onChange={(name) => change({ name }, 'name')} />
      <AreaField
        label="Address that is called"
        rows={2}
        value={step.url}
        onChange={(url) => change({ url: url.trim() }, 'url')}
      />
      <p className="text-xs text-secondary">
        Called by POST, signed, with the customer and the step as JSON; tried again if it does not
        answer. Addresses inside a network cannot be called.
      </p>
      <StepActions {...form} stepKey={step.key} what="this webhook" />
    </>
  )
}
