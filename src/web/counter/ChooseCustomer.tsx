import { useQuery } from '@tanstack/react-query'
import { useEffect, useState, type ReactNode } from 'react'
import { z } from 'zod'
import { counterCustomer, newCustomer, type PlaceOrderBody } from '../../contract/counter.ts'
import { plural } from '../../core/words/quantities.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { useLatest } from '../ui/hooks/useLatest.ts'
import { Outdated } from '../ui/states.tsx'
import { SearchField } from '../ui/fields/SearchField.tsx'

export type Customer = PlaceOrderBody['customer']

interface Props {
  value: Customer | null
  onChange: (customer: Customer | null) => void
}

/** Somebody the shop knows, or somebody new. */
export function ChooseCustomer({ value, onChange }: Props): ReactNode {
  const [isNew, setNew] = useState(false)
  const choose = (next: boolean) => {
    // Pressed again, it keeps whom it has.
    if (next === isNew) return
    setNew(next)
    onChange(null)
  }
  return (
    <div className="panel p-3">
      <div className="mb-2 flex gap-1" role="group" aria-label="Customer">
        <button
          type="button"
          aria-pressed={!isNew}
          className={`btn btn-xs ${isNew ? '' : 'btn-neutral'}`}
          onClick={() => choose(false)}
        >
          Known customer
        </button>
        <button
          type="button"
          aria-pressed={isNew}
          className={`btn btn-xs ${isNew ? 'btn-neutral' : ''}`}
          onClick={() => choose(true)}
        >
          Somebody new
        </button>
      </div>
      {isNew ? (
        <NewCustomer onChange={onChange} />
      ) : (
        <KnownCustomer value={value} onChange={onChange} />
      )}
    </div>
  )
}

function KnownCustomer({ value, onChange }: Props): ReactNode {
  const [search, setSearch] = useState('')
  const found = useQuery({
    queryKey: ['counter', 'customers', search],
    queryFn: ({ signal }) =>
      getJson(`/api/counter/customers${queryOf({ search })}`, z.array(counterCustomer), signal),
    placeholderData: (previous) => previous,
  })
  const chosen = value && 'id' in value ? value.id : null
  return (
    <>
      <SearchField
        label="Search customers"
        className="w-full"
        placeholder="Name or address"
        value={search}
        onSearch={setSearch}
      />
      <Outdated isOutdated={found.isPlaceholderData}>
        <ul className="mt-1 h-32 overflow-y-auto">
          {found.data?.map(({ id, name, email, orders }) => (
            <li key={id}>
              <button
                type="button"
                aria-pressed={chosen === id}
                className={`flex w-full justify-between gap-2 rounded-field px-2 py-1 text-left hover:bg-base-200 ${chosen === id ? 'bg-base-200 font-medium' : ''}`}
                onClick={() => onChange({ id })}
              >
                <span className="truncate" title={email ?? undefined}>
                  {name || email || id}
                </span>
                <span className="text-xs whitespace-nowrap text-secondary">
                  {plural(orders, 'order')}
                </span>
              </button>
            </li>
          ))}
          {found.data?.length === 0 && <li className="p-2 text-secondary">Nobody by that name.</li>}
        </ul>
      </Outdated>
    </>
  )
}

function NewCustomer({ onChange }: Pick<Props, 'onChange'>): ReactNode {
  const form = useZodForm(
    newCustomer,
    { email: '', firstName: '', lastName: '', emailConsent: true },
    { mode: 'onTouched' },
  )
  const { errors } = form.formState
  const tell = useLatest(onChange)
  useEffect(
    () =>
      form.subscribe({
        formState: { values: true },
        callback: ({ values }) => {
          const read = newCustomer.safeParse(values)
          tell.current(read.success ? read.data : null)
        },
      }),
    [form, tell],
  )
  return (
    <div className="flex flex-col gap-2">
      <FormField
        small
        type="email"
        label="Email address"
        field={form.register('email')}
        problem={errors.email}
      />
      <div className="flex gap-2">
        <FormField
          small
          className="min-w-0 flex-1"
          label="First name"
          field={form.register('firstName')}
          problem={errors.firstName}
        />
        <FormField
          small
          className="min-w-0 flex-1"
          label="Last name"
          field={form.register('lastName')}
          problem={errors.lastName}
        />
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          {...form.register('emailConsent')}
        />
        agrees to marketing by email
      </label>
    </div>
  )
}
