import type { ReactNode } from 'react'
import type { FieldCondition } from '../../../core/conditions/condition.ts'
import { findField, type Field, type FieldOwner } from '../../../core/conditions/fields.ts'
import {
  findOperator,
  isMoney,
  OPERATORS,
  type Operand,
  type OperandShape,
} from '../../../core/conditions/operators.ts'
import { useShop } from '../data/shop.tsx'
import { ListValue, OneValue } from './ListValue.tsx'
import { MoneyInput } from './MoneyInput.tsx'
import { fieldsIn, useScope } from './scope.ts'
import { DateInput } from './WindowField.tsx'
import { MonthsField, WeekdaysField } from '../fields/NamedNumbers.tsx'

interface Props {
  value: FieldCondition
  onChange: (condition: FieldCondition) => void
}

/** "Order total is at least €50.00": a field, an operator that fits it, a value that fits both. */
export function FieldTest({ value, onChange }: Props): ReactNode {
  const { currency } = useShop()
  const offered = fieldsIn(useScope())
  const field = findField(value.field) ?? offered[0]
  if (!field) return null
  const setOperator = (next: Field, op: string) => {
    const shape = findOperator(next.type, op)?.operand ?? 'none'
    const before = findOperator(field.type, value.op)?.operand
    const kept =
      next === field
        ? (carried(value.value, before, shape) ?? emptyValue(next, shape, currency))
        : emptyValue(next, shape, currency)
    onChange(
      kept === undefined
        ? { kind: 'field', field: next.key, op }
        : { kind: 'field', field: next.key, op, value: kept },
    )
  }
  const operators = OPERATORS[field.type]
  return (
    <div className="flex flex-col gap-2">
      <select
        className="select select-sm w-full"
        aria-label="Which fact"
        value={field.key}
        onChange={(event) => {
          const next = findField(event.target.value)
          if (next) setOperator(next, OPERATORS[next.type][0]?.op ?? 'known')
        }}
      >
        {ownersOf(offered, field).map((about) => (
          <optgroup key={about} label={OWNERS[about]}>
            {[...offered, ...(offered.includes(field) ? [] : [field])]
              .filter((one) => one.about === about)
              .map(({ key, label }) => (
                <option key={key} value={key}>
                  {label}
                </option>
              ))}
          </optgroup>
        ))}
      </select>
      <select
        className="select select-sm w-full"
        aria-label="Comparison"
        value={value.op}
        onChange={(event) => setOperator(field, event.target.value)}
      >
        {operators.map(({ op, label }) => (
          <option key={op} value={op}>
            {label}
          </option>
        ))}
      </select>
      <ValueInput
        field={field}
        shape={findOperator(field.type, value.op)?.operand ?? 'none'}
        picks={value.op === 'is'}
        value={value.value}
        onChange={(next) => onChange({ ...value, value: next })}
      />
    </div>
  )
}

const OWNERS: Readonly<Record<FieldOwner, string>> = {
  order: 'The order',
  line: 'The product',
  checkout: 'The checkout',
  basket: 'The basket',
  subscription: 'The subscription',
  review: 'The review',
  customer: 'The customer',
}

const ownersOf = (fields: readonly Field[], chosen: Field): FieldOwner[] => [
  ...new Set([...fields, chosen].map(({ about }) => about)),
]

/** What was chosen, as another operator of the same field takes it; undefined where it takes none of it. */
function carried(
  value: Operand,
  from: OperandShape | undefined,
  to: OperandShape,
): Operand | undefined {
  if (from === to) return value
  if (from === 'one' && to === 'many') return typeof value === 'string' && value !== '' ? [value] : undefined // prettier-ignore
  const [first] = from === 'many' ? (value as readonly string[]) : []
  return to === 'one' ? first : undefined
}

function emptyValue(field: Field, shape: OperandShape, currency: string): Operand {
  if (shape === 'none') return undefined
  if (shape === 'many') return []
  if (shape === 'days') return 30
  if (shape === 'weekdays') return [1]
  if (shape === 'months') return [1]
  const one = emptyScalar(field, currency)
  return shape === 'range' ? ({ from: one, to: one } as Operand) : one
}

function emptyScalar(field: Field, currency: string): Operand {
  if (field.type === 'money') return { amountMinor: 0, currency }
  if (field.type === 'number') return 1
  if (field.type === 'yesNo') return true
  return Object.keys(field.choices ?? {})[0] ?? ''
}

/** Both ends of a range are in one currency. */
const inCurrencyOf = (changed: Operand, other: Operand): Operand =>
  isMoney(changed) && isMoney(other) ? { ...other, currency: changed.currency } : other

interface ValueProps {
  field: Field
  shape: OperandShape
  /** The value is one of those the shop has, not a part of one. */
  picks: boolean
  value: Operand
  onChange: (value: Operand) => void
}

function ValueInput({ field, shape, picks, value, onChange }: ValueProps): ReactNode {
  if (shape === 'none') return null
  if (shape === 'weekdays') {
    return <WeekdaysField value={value as number[]} onChange={onChange} />
  }
  if (shape === 'months') {
    return <MonthsField value={value as number[]} onChange={onChange} />
  }
  if (shape === 'many') {
    return <ListValue field={field} value={value as readonly string[]} onChange={onChange} />
  }
  if (shape === 'range') {
    const { from, to } = value as { from: Operand; to: Operand }
    return (
      <div className="flex items-center gap-2">
        <ScalarInput
          field={field}
          picks={picks}
          value={from}
          label="From"
          onChange={(next) => onChange({ from: next, to: inCurrencyOf(next, to) } as Operand)}
        />
        <span className="text-xs">and</span>
        <ScalarInput
          field={field}
          picks={picks}
          value={to}
          label="To"
          onChange={(next) => onChange({ from: inCurrencyOf(next, from), to: next } as Operand)}
        />
      </div>
    )
  }
  return <ScalarInput field={field} picks={picks} value={value} label="Value" onChange={onChange} />
}

function ScalarInput({
  field,
  picks,
  value,
  label,
  onChange,
}: Omit<ValueProps, 'shape'> & { label: string }): ReactNode {
  if (isMoney(value)) return <MoneyInput label={label} value={value} onChange={onChange} />
  if (field.type === 'date' && typeof value === 'string') {
    return <DateInput label={label} value={value} onChange={onChange} />
  }
  if (typeof value === 'number') {
    return (
      <input
        type="number"
        aria-label={label}
        className="input input-sm w-full font-mono"
        value={value}
        onChange={(event) => onChange(Number(event.target.value) || 0)}
      />
    )
  }
  const choices = typeof value === 'boolean' ? { true: 'yes', false: 'no' } : field.choices
  if (choices) {
    return (
      <select
        className="select select-sm w-full"
        aria-label={label}
        value={typeof value === 'boolean' ? String(value) : (value as string)}
        onChange={(event) =>
          onChange(typeof value === 'boolean' ? event.target.value === 'true' : event.target.value)
        }
      >
        {Object.entries(choices).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    )
  }
  if (field.values && picks) {
    return (
      <OneValue field={field} value={typeof value === 'string' ? value : ''} onChange={onChange} />
    )
  }
  return (
    <input
      aria-label={label}
      className="input input-sm w-full"
      value={typeof value === 'string' ? value : ''}
      onChange={(event) => onChange(event.target.value)}
    />
  )
}
