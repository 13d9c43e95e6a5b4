import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import type { Combination } from '../../../../contract/counts.ts'
import { entityOf } from '../../../../core/events/eventTypes.ts'
import { formatMoney } from '../../../../core/shared/money.ts'
import { withContentsPath } from '../../../../core/workflow/contentsPath.ts'
import { MOST_PATHS } from '../../../../core/workflow/steps.ts'
import { Time, useShop } from '../../../ui/data/shop.tsx'
import { Loading, Problem } from '../../../ui/states.tsx'
import { useSettled } from '../../../ui/hooks/useSettled.ts'
import { countedCombinations } from '../../findings/combinations.ts'
import type { FormProps } from '../formProps.ts'
import type { StepOf } from '../stepChange.ts'

type Props = FormProps & { step: StepOf<'split'> }

const SHOWN = 12
/** How many paths are made at once. */
const AT_ONCE = 5

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

function Combinations({ step, definition, onChange }: Props): ReactNode {
  const { locale } = useShop()
  const { trigger } = definition
  const asked = useSettled(step, step)
  // The orders stay the same while paths are made; which path each takes is told once it is known.
  const found = useQuery({
    ...countedCombinations(trigger, asked.branches),
    placeholderData: keepPreviousData,
  })
  if (found.error) return <Problem error={found.error} retry={() => void found.refetch()} />
  if (!found.data) return <Loading what="what was ordered" />
  const { combinations, since } = found.data
  const all = combinations.reduce((sum, { orders }) => sum + orders, 0)
  const isCounting = found.isPlaceholderData || asked !== step
  const room = MOST_PATHS - step.branches.length
  const shown = combinations.slice(0, SHOWN)
  const make = (wanted: readonly Combination[]) =>
    onChange(
      // A new path stands above the others: what is ordered most is made last.
      wanted
        .toReversed()
        .reduce(
          (made, { categories }) => withContentsPath(made, step.key, categories).definition,
          definition,
        ),
    )
  const pathless = shown.filter((one) => isPathless(one))
  const first = pathless.slice(0, Math.min(AT_ONCE, room))
  return (
    <>
      <p className="my-1 text-xs text-secondary">
        Of {all.toLocaleString(locale)} orders{' '}
        {since === null ? (
          'of the last year'
        ) : (
          <>
            since <Time at={since} />
          </>
        )}{' '}
        that this workflow lets in.
      </p>
      <ul className="flex flex-col gap-1.5">
        {shown.map((combination) => (
          <Row
            key={JSON.stringify(combination.categories)}
            combination={combination}
            names={[...step.branches.map(({ name }) => name), 'everyone else']}
            isCounting={isCounting}
            onMake={room > 0 ? () => make([combination]) : undefined}
          />
        ))}
      </ul>
      {first.length > 1 && (
        <button
          type="button"
          className="btn btn-sm mt-2"
          disabled={isCounting}
          onClick={() => make(first)}
        >
          Make paths for the {first.length} ordered most
        </button>
      )}
    </>
  )
}

/** Whether those who ordered this take no path yet, and could have one. */
const isPathless = ({ categories, paths, orders }: Combination): boolean =>
  categories.length > 0 && orders > 0 && paths.at(-1) === orders

interface RowProps {
  combination: Combination
  /** The paths of the split, everyone else last. */
  names: readonly string[]
  /** Missing where the split has as many paths as it can have. */
  onMake: (() => void) | undefined
  /** Which paths they take is not known, since the split has changed. */
  isCounting: boolean
}

function Row({ combination, names, onMake, isCounting }: RowProps): ReactNode {
  const { currency, locale } = useShop()
  const { categories, orders, revenueMinor, paths } = combination
  const taken = paths.flatMap((count, index) => (count > 0 ? [names[index] ?? ''] : []))
  const othersToo = (paths.at(-1) ?? 0) > 0
  return (
    <li className="rounded-field border border-base-300 px-2 py-1">
      <span className="flex items-baseline gap-2">
        <span className="flex-1">{categories.join(' + ') || 'no category'}</span>
        <span className="font-mono text-xs">{orders.toLocaleString(locale)}</span>
        <span className="font-mono text-xs">
          {formatMoney({ amountMinor: revenueMinor, currency }, locale)}
        </span>
      </span>
      <span className="flex items-center gap-2 text-xs text-secondary">
        <span className={`flex-1 ${othersToo && !isCounting ? 'text-warning' : ''}`}>
          → {isCounting ? 'counting…' : taken.join(', ')}
        </span>
        {onMake && categories.length > 0 && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-label={`Make a path for ${categories.join(' and ')}`}
            onClick={onMake}
          >
            Make a path
          </button>
        )}
      </span>
    </li>
  )
}
