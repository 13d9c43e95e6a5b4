import { X } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import type { Field } from '../../../core/conditions/fields.ts'
import { useProducts } from '../data/useProducts.ts'

interface Props {
  field: Field
  value: readonly string[]
  onChange: (value: string[]) => void
}

interface Option {
  value: string
  label: string
}

const MOST_SHOWN = 8

/** Several values, picked from the shop's own where it has a list of them. */
export function ListValue({ field, value, onChange }: Props): ReactNode {
  const [search, setSearch] = useState('')
  const options = useOptions(field)
  const wanted = search.trim().toLowerCase()
  const found = options
    .filter((one) => !value.includes(one.value) && one.label.toLowerCase().includes(wanted))
    .slice(0, MOST_SHOWN)
  const add = (one: string) => {
    onChange([...value, one])
    setSearch('')
  }
  const labelOf = (one: string) => options.find((option) => option.value === one)?.label ?? one
  return (
    <div>
      <div className="mb-1 flex flex-wrap gap-1">
        {value.map((one) => (
          <span key={one} className="chip">
            {labelOf(one)}
            <button
              type="button"
              aria-label={`Remove ${labelOf(one)}`}
              onClick={() => onChange(value.filter((other) => other !== one))}
            >
              <X size={12} />
            </button>
          </span>
        ))}
      </div>
      <input
        className="input input-sm w-full"
        aria-label={`Add to ${field.label}`}
        placeholder={options.length > 0 ? 'Search and pick' : 'Type a value, then Enter'}
        value={search}
        onChange={(event) => setSearch(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return
          event.preventDefault()
          const first = options.length > 0 ? found[0]?.value : search.trim()
          if (first) add(first)
        }}
      />
      <ul className="mt-1">
        {found.map((one) => (
          <li key={one.value}>
            <button
              type="button"
              className="w-full rounded-field px-2 py-1 text-left text-xs hover:bg-base-200"
              onClick={() => add(one.value)}
            >
              {one.label}
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}

/** One value of those the shop has: picked like several, and replaced by the next that is picked. */
export function OneValue({
  field,
  value,
  onChange,
}: {
  field: Field
  value: string
  onChange: (value: string) => void
}): ReactNode {
  return (
    <ListValue
      field={field}
      value={value === '' ? [] : [value]}
      onChange={(picked) => onChange(picked.at(-1) ?? '')}
    />
  )
}

function useOptions(field: Field): Option[] {
  const products = useProducts()
  if (field.choices)
    return Object.entries(field.choices).map(([value, label]) => ({ value, label }))
  if (field.values === 'products')
    return products.map(({ id, title }) => ({ value: id, label: title }))
  if (field.values === 'categories') {
    const names = [...new Set(products.flatMap(({ category }) => category ?? []))]
    return names.map((name) => ({ value: name, label: name }))
  }
  return []
}
