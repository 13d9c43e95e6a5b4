import { Plus, Trash2 } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import type { Condition, SegmentCondition, TestCondition } from '../../../core/conditions/condition.ts' // prettier-ignore
import { useShop } from '../data/shop.tsx'
import { FieldTest } from './FieldTest.tsx'
import { HistoryTest } from './HistoryTest.tsx'
import { LinesTest } from './LinesTest.tsx'
import { MessagesTest, WorkflowsTest } from './PastTests.tsx'
import { SegmentTest } from './SegmentTest.tsx'
import { firstCondition, firstTest, ScopeProvider, useScope, type ConditionScope } from './scope.ts'

interface Props {
  value: Condition
  onChange: (condition: Condition) => void
  /** Missing for the outermost condition. */
  onRemove?: (() => void) | undefined
}

const GROUPS = { all: 'all of these hold', any: 'at least one of these holds' } as const
/** What is asked at one place: a single test, or whether somebody is in a segment. */
type Asked = TestCondition | SegmentCondition

const ASKED: Readonly<Record<Asked['kind'], string>> = {
  field: 'a fact',
  history: 'something happened',
  lines: 'what was ordered',
  workflows: 'other workflows',
  messages: 'messages got',
  segment: 'a segment',
}

/** A condition as readable sentences: single tests, and groups of which all or any must hold. */
export function ConditionEditor({ value, onChange, onRemove }: Props): ReactNode {
  if (value.kind === 'all' || value.kind === 'any') {
    return <Group value={value} onChange={onChange} onRemove={onRemove} />
  }
  return <Single value={value} onChange={onChange} onRemove={onRemove} />
}

interface SingleProps extends Omit<Props, 'value'> {
  value: Exclude<Condition, { kind: 'all' | 'any' }>
}

function Single({ value, onChange, onRemove }: SingleProps): ReactNode {
  const { currency } = useShop()
  const scope = useScope()
  // Which segment is chosen next: until then what stood there is asked.
  const [isChoosing, setChoosing] = useState(false)
  const negated = value.kind === 'not'
  const inner = negated ? value.of : value
  const wrap = (condition: Condition): Condition =>
    negated ? { kind: 'not', of: condition } : condition
  return (
    <div className="rounded-field border border-base-300 p-2">
      {isAsked(inner) ? (
        <>
          <div className="mb-2 flex items-center gap-2">
            <KindSelect
              kind={isChoosing ? 'segment' : inner.kind}
              kinds={scope.kinds.includes('workflows') ? [...scope.kinds, 'segment'] : scope.kinds}
              onChange={(kind) => {
                setChoosing(kind === 'segment')
                if (kind !== 'segment') onChange(wrap(firstTest(kind, scope, currency)))
              }}
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
          {isChoosing || inner.kind === 'segment' ? (
            <SegmentTest
              value={inner.kind === 'segment' ? inner : null}
              onChange={(condition) => {
                setChoosing(false)
                onChange(wrap(condition))
              }}
            />
          ) : (
            <Test value={inner} onChange={(condition) => onChange(wrap(condition))} />
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
          onClick={() => onChange({ kind: 'all', of: [value, firstCondition(scope, currency)] })}
        >
          <Plus size={12} aria-hidden="true" /> and / or …
        </button>
      )}
    </div>
  )
}

/** A condition inside another that asks about something of its own. */
export function InnerCondition({ scope, ...props }: Props & { scope: ConditionScope }): ReactNode {
  return (
    <ScopeProvider value={scope}>
      <ConditionEditor {...props} />
    </ScopeProvider>
  )
}

const isAsked = (condition: Condition): condition is Asked =>
  !['all', 'any', 'not'].includes(condition.kind)

function Test({
  value,
  onChange,
}: {
  value: TestCondition
  onChange: (condition: Condition) => void
}): ReactNode {
  switch (value.kind) {
    case 'field':
      return <FieldTest value={value} onChange={onChange} />
    case 'history':
      return <HistoryTest value={value} onChange={onChange} Inner={InnerCondition} />
    case 'lines':
      return <LinesTest value={value} onChange={onChange} Inner={InnerCondition} />
    case 'workflows':
      return <WorkflowsTest value={value} onChange={onChange} />
    case 'messages':
      return <MessagesTest value={value} onChange={onChange} />
  }
}

function KindSelect({
  kind,
  kinds,
  onChange,
}: {
  kind: Asked['kind']
  kinds: readonly Asked['kind'][]
  onChange: (kind: Asked['kind']) => void
}): ReactNode {
  const offered = kinds.includes(kind) ? kinds : [kind, ...kinds]
  return (
    <select
      className="select select-xs flex-1"
      aria-label="What is asked"
      value={kind}
      onChange={(event) => onChange(event.target.value as Asked['kind'])}
    >
      {offered.map((key) => (
        <option key={key} value={key}>
          {ASKED[key]}
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
  const scope = useScope()
  const set = (of: Condition[]) => {
    const [only] = of
    // A group of one is that one.
    onChange(of.length === 1 && only ? only : { ...value, of })
  }
  const add = (...conditions: Condition[]) => set([...value.of, ...conditions])
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
          onClick={() => add(firstCondition(scope, currency))}
        >
          <Plus size={12} aria-hidden="true" /> condition
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => {
            const first = firstCondition(scope, currency)
            add({ kind: value.kind === 'all' ? 'any' : 'all', of: [first, first] })
          }}
        >
          <Plus size={12} aria-hidden="true" /> group
        </button>
      </div>
    </div>
  )
}
