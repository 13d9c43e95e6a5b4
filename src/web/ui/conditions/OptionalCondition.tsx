import { Plus } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Condition } from '../../../core/conditions/condition.ts'
import { useShop } from '../data/shop.tsx'
import { ConditionEditor } from './ConditionEditor.tsx'
import { firstCondition, useScope } from './scope.ts'

interface Props {
  title: string
  /** What it means when there is no condition. */
  none: string
  value: Condition | undefined
  onChange: (condition: Condition | undefined) => void
}

/** A condition that may be missing. */
export function OptionalCondition({ title, none, value, onChange }: Props): ReactNode {
  const { currency } = useShop()
  const scope = useScope()
  return (
    <section className="mt-2" aria-label={title}>
      <h3 className="field-label">{title}</h3>
      {value ? (
        <>
          <ConditionEditor value={value} onChange={onChange} />
          <button
            type="button"
            className="btn btn-ghost btn-xs mt-2"
            onClick={() => onChange(undefined)}
          >
            Remove the condition
          </button>
        </>
      ) : (
        <>
          <p className="mb-2 text-xs text-secondary">{none}</p>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => onChange(firstCondition(scope, currency))}
          >
            <Plus size={14} aria-hidden="true" /> Add a condition
          </button>
        </>
      )}
    </section>
  )
}
