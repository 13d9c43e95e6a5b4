import type { ReactNode } from 'react'
import { findField } from '../../../../core/conditions/fields.ts'
import { NumberField } from '../../../ui/fields/fields.tsx'
import { useShop } from '../../../ui/data/shop.tsx'
import { ListValue } from '../../../ui/conditions/ListValue.tsx'
import { MoneyInput } from '../../../ui/conditions/MoneyInput.tsx'
import type { StepOf } from '../stepChange.ts'
import { TickField } from '../../../ui/fields/TickField.tsx'

const CATEGORIES = findField('order.categories')

type CouponStep = StepOf<'coupon'>
type Terms = { [Key in 'minimum' | 'categories' | 'maxUses']?: CouponStep[Key] | undefined }

interface Props {
  step: CouponStep
  onChange: (to: Terms, touching?: string) => void
}

/** What an order has to be for a code to count. */
export function CouponTerms({ step, onChange }: Props): ReactNode {
  const { currency } = useShop()
  const isOwn = step.pattern.includes('#')
  return (
    <>
      <TickField
        className="mb-2"
        checked={step.minimum !== undefined}
        onChange={(checked) =>
          onChange({
            minimum: checked ? { amountMinor: 2000, currency } : undefined,
          })
        }
      >
        only from an amount on
      </TickField>
      {step.minimum && (
        <div className="mb-3">
          <MoneyInput
            label="The least an order comes to"
            value={step.minimum}
            onChange={(minimum) => onChange({ minimum }, 'minimum')}
          />
        </div>
      )}
      {CATEGORIES && (
        <div className="mb-3">
          <span className="field-label">Only on these categories; none: on everything</span>
          <ListValue
            field={CATEGORIES}
            value={step.categories ?? []}
            onChange={(names) =>
              onChange({ categories: names.length === 0 ? undefined : names }, 'categories')
            }
          />
        </div>
      )}
      <NumberField
        label={
          isOwn
            ? 'How often a code can be used'
            : 'How often it can be used by all; 0 without limit'
        }
        min={isOwn ? 1 : 0}
        max={1_000_000}
        value={step.maxUses ?? (isOwn ? 1 : 0)}
        onChange={(uses) => onChange({ maxUses: uses === 0 ? undefined : uses }, 'uses')}
      />
    </>
  )
}
