import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import type { z } from 'zod'
import { combinationsResponse } from '../../../contract/counts.ts'
import type { Condition } from '../../../core/conditions/condition.ts'
import { entityOf } from '../../../core/events/eventTypes.ts'
import { formatMoney } from '../../../core/shared/money.ts'
import { freshKey, updateStep } from '../../../core/workflow/edit.ts'
import { sendJson } from '../../ui/api.ts'
import { useShop } from '../../ui/shop.tsx'
import { Loading, Problem } from '../../ui/states.tsx'
import { useSettled } from '../../ui/useSettled.ts'
import type { FormProps } from './formProps.ts'
import type { StepOf } from './stepChange.ts'

type Combination = z.infer<typeof combinationsResponse>[number]
type Props = FormProps & { step: StepOf<'split'> }

const SHOWN = 12
/** What was ordered together in the last year, which path it takes, and a path for it where it has none. */
export function ContentsTable(props: Props): ReactNode {
  const [open, setOpen] = useState(false)
  const { trigger } = props.definition
  if (trigger.kind !== 'event' || entityOf(trigger.event) !== 'order') return null
  return (
    <details className="mt-4" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-medium">What is ordered together</summary>
      {open && <Combinations {...props} />}
    </details>
  )
}

function Combinations({ step, definition, onChange, onSelect }: Props): ReactNode {
  const { trigger } = definition
  const branches = step.branches.map(({ when }) => when)
  const body = JSON.stringify({ trigger, branches })
  const asked = useSettled(body, body)
  const found = useQuery({
    queryKey: ['combinations', asked],
    queryFn: () =>
      sendJson('POST', '/api/conditions/combinations', combinationsResponse, JSON.parse(asked) as object),
    staleTime: 60_000,
  }) // prettier-ignore
  if (found.error) return <Problem error={found.error} retry={() => void found.refetch()} />
  if (!found.data) return <Loading what="what was ordered" />
  const all = found.data.reduce((sum, { orders }) => sum + orders, 0)
  const make = (collections: string[]) => {
    const key = freshKey(definition, 'branch')
    const branch = { key, name: collections.join(' and '), when: hasAll(collections), steps: [] }
    onChange(
      updateStep(definition, step.key, (one) =>
        one.kind === 'split' ? { ...one, branches: [branch, ...one.branches] } : one,
      ),
    )
    onSelect({ kind: 'branch', fork: step.key, branch: key })
  }
  return (
    <>
      <p className="my-1 text-xs text-secondary">
        Of {all.toLocaleString()} orders of the last year that this workflow lets in.
      </p>
      <ul className="flex flex-col gap-1.5">
        {found.data.slice(0, SHOWN).map((combination) => (
          <Row
            key={JSON.stringify(combination.collections)}
            combination={combination}
            names={[...step.branches.map(({ name }) => name), 'everyone else']}
            onMake={() => make(combination.collections)}
          />
        ))}
      </ul>
    </>
  )
}

const hasAll = (value: string[]): Condition => ({
  kind: 'field',
  field: 'order.collections',
  op: 'hasAll',
  value,
})

interface RowProps {
  combination: Combination
  /** The paths of the split, everyone else last. */
  names: readonly string[]
  onMake: () => void
}

function Row({ combination, names, onMake }: RowProps): ReactNode {
  const { currency, locale } = useShop()
  const { collections, orders, revenueMinor, paths } = combination
  const taken = paths.flatMap((count, index) => (count > 0 ? [names[index] ?? ''] : []))
  const othersToo = (paths.at(-1) ?? 0) > 0
  return (
    <li className="rounded-field border border-base-300 px-2 py-1">
      <span className="flex items-baseline gap-2">
        <span className="flex-1">{collections.join(' + ') || 'no collection'}</span>
        <span className="font-mono text-xs">{orders.toLocaleString()}</span>
        <span className="font-mono text-xs">
          {formatMoney({ amountMinor: revenueMinor, currency }, locale)}
        </span>
      </span>
      <span className="flex items-center gap-2 text-xs text-secondary">
        <span className={`flex-1 ${othersToo ? 'text-warning' : ''}`}>→ {taken.join(', ')}</span>
        {collections.length > 0 && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-label={`Make a path for ${collections.join(' and ')}`}
            onClick={onMake}
          >
            Make a path
          </button>
        )}
      </span>
    </li>
  )
}
