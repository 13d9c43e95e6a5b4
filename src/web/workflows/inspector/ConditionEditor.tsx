import { Plus, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Condition } from '../../../core/conditions/condition.ts'
import { useShop } from '../../ui/shop.tsx'
import { FieldTest } from './FieldTest.tsx'
import { HistoryTest } from './HistoryTest.tsx'

interface Props {
  value: Condition
  onChange: (condition: Condition) => void
  /** Missing for the outermost condition. */
  onRemove?: (() => void) | undefined
}

/** The condition to begin with: the total of the order. */
export function firstCondition(currency: string): Condition {
  return { kind: 'field', field: 'order.total', op: 'gte', value: { amountMinor: 5000, currency } }
}

const GROUPS = { all: 'all of these hold', any: 'at least one of these holds' } as const
const TESTS = { field: 'a fact', history: 'something happened' } as const

/** A condition as readable sentences: single tests, and groups of which all or any must hold. */
export function ConditionEditor({ value, onChange, onRemove }: Props): ReactNode {
  const { currency } = useShop()
  if (value.kind === 'all' || value.kind === 'any') {
    return <Group value={value} onChange={onChange} onRemove={onRemove} />
  }
  const negated = value.kind === 'not'
  const inner = negated ? value.of : value
  const wrap = (condition: Condition): Condition =>
    negated ? { kind: 'not', of: condition } : condition
  return (
    <div className="rounded-field border border-base-300 p-2">
      {inner.kind === 'field' || inner.kind === 'history' ? (
        <>
          <div className="mb-2 flex items-center gap-2">
            <KindSelect
              kind={inner.kind}
              onChange={(kind) =>
                onChange(wrap(kind === 'field' ? firstCondition(currency) : happenedEver))
              }
            />
            <label className="flex items-center gap-1 text-xs whitespace-nowrap">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={negated}
                onChange={(event) =>
                  onChange(event.target.checked ? { kind: 'not', of: inner } : inner)
                }
              />
              not
            </label>
            {onRemove && <RemoveButton onRemove={onRemove} />}
          </div>
          {inner.kind === 'field' ? (
            <FieldTest value={inner} onChange={(condition) => onChange(wrap(condition))} />
          ) : (
            <HistoryTest value={inner} onChange={(condition) => onChange(wrap(condition))} />
          )}
        </>
      ) : (
        <>
          <p className="mb-1 text-xs text-secondary">it is not so that</p>
          <ConditionEditor
            value={inner}
            onChange={(condition) => onChange(wrap(condition))}
            onRemove={onRemove}
          />
        </>
      )}
      {!onRemove && (
        <button
          type="button"
          className="btn btn-ghost btn-xs mt-2"
          onClick={() => onChange({ kind: 'all', of: [value, firstCondition(currency)] })}
        >
          <Plus size={12} aria-hidden="true" /> and / or …
        </button>
      )}
    </div>
  )
}

const happenedEver: Condition = {
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op: 'atLeast', times: 1 },
  window: { kind: 'ever' },
}

function KindSelect({
  kind,
  onChange,
}: {
  kind: 'field' | 'history'
  onChange: (kind: 'field' | 'history') => void
}): ReactNode {
  return (
    <select
      className="select select-xs flex-1"
      aria-label="What is asked"
      value={kind}
      onChange={(event) => onChange(event.target.value as 'field' | 'history')}
    >
      {Object.entries(TESTS).map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  )
}

function RemoveButton({ onRemove }: { onRemove: () => void }): ReactNode {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label="Remove this condition"
      onClick={onRemove}
    >
      <Trash2 size={13} />
    </button>
  )
}

type GroupCondition = Extract<Condition, { kind: 'all' | 'any' }>

function Group({
  value,
  onChange,
  onRemove,
}: { value: GroupCondition } & Omit<Props, 'value'>): ReactNode {
  const { currency } = useShop()
  const set = (of: Condition[]) => {
    const [only] = of
    // A group of one is that one.
    onChange(of.length === 1 && only ? only : { ...value, of })
  }
  return (
    <div className="border-l-2 border-base-300 pl-2">
      <div className="mb-2 flex items-center gap-2">
        <select
          className="select select-xs flex-1"
          aria-label="How these go together"
          value={value.kind}
          onChange={(event) =>
            onChange({ kind: event.target.value as 'all' | 'any', of: value.of })
          }
        >
          {Object.entries(GROUPS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        {onRemove && <RemoveButton onRemove={onRemove} />}
      </div>
      <div className="flex flex-col gap-2">
        {value.of.map((one, index) => (
          <ConditionEditor
            // The parts of a group have no identity but their place.
            key={index}
            value={one}
            onChange={(condition) => set(value.of.with(index, condition))}
            onRemove={() => set(value.of.filter((_, other) => other !== index))}
          />
        ))}
      </div>
      <div className="mt-2 flex gap-1">
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => set([...value.of, firstCondition(currency)])}
        >
          <Plus size={12} aria-hidden="true" /> condition
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() =>
            set([
              ...value.of,
              {
                kind: value.kind === 'all' ? 'any' : 'all',
                of: [firstCondition(currency), happenedEver],
              },
            ])
          }
        >
          <Plus size={12} aria-hidden="true" /> group
        </button>
      </div>
    </div>
  )
}
