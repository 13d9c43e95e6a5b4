import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { shopFactsBody, type ShopFactsBody } from '../../contract/shopFacts.ts'
import { getJson, send } from '../ui/data/api.ts'
import { useShop } from '../ui/data/shop.tsx'
import { useAddressBook } from '../ui/data/useAddressBook.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading, Problem } from '../ui/states.tsx'

/** What is set of the shop itself. */
export function ShopForm(): ReactNode {
  const facts = useQuery({
    queryKey: ['shop'],
    queryFn: () => getJson('/api/shop', shopFactsBody),
  })
  return (
    <section className="panel mb-4 p-4" aria-label="The shop">
      <h2 className="mb-2 text-base">The shop</h2>
      {facts.error && <Problem error={facts.error} retry={() => void facts.refetch()} />}
      {facts.isPending && <Loading what="the shop" />}
      {facts.data && <Facts facts={facts.data} />}
    </section>
  )
}

function Facts({ facts }: { facts: ShopFactsBody }): ReactNode {
  const { currency } = useShop()
  const senders = useAddressBook()?.senders.filter(({ verified }) => verified) ?? []
  const form = useZodForm(shopFactsBody, facts)
  const queries = useQueryClient()
  const { errors, isDirty } = form.formState
  const save = useChange(
    (body: ShopFactsBody) => send('PUT', '/api/shop', body),
    'shop',
    (body) => {
      // Words, times and senders everywhere go by it.
      for (const key of ['session', 'addresses']) void queries.invalidateQueries({ queryKey: [key] })
      form.reset(body)
      toast.success('Saved.')
    },
  )
  return (
    <form noValidate onSubmit={(event) => void form.handleSubmit((body) => save.mutate(body))(event)}>
      <div className="grid gap-x-4 gap-y-2 sm:grid-cols-2">
        <FormField label="Name" field={form.register('name')} problem={errors.name} />
        <FormField label="Language and region" field={form.register('locale')} problem={errors.locale} />
        <FormField label="Time zone" list="zones" field={form.register('zone')} problem={errors.zone} />
        <p className="self-end pb-2 text-secondary">
          Currency: {currency}. It stays, since amounts are kept in it.
        </p>
        <FormField label="Its messages come from" field={form.register('senderName')} problem={errors.senderName} />
        <label className="block">
          <span className="field-label">at the address</span>
          <select className="select w-full" {...form.register('senderAddress')}>
            {[...new Set([facts.senderAddress, ...senders.map(({ address }) => address)])].map((address) => (
              <option key={address}>{address}</option>
            ))}
          </select>
        </label>
      </div>
      <label className="mt-3 flex min-h-6 items-baseline gap-2">
        <input type="checkbox" {...form.register('secondPerson')} />
        It takes two to put a workflow live: one asks, another does it.
      </label>
      <label className="mt-1 flex min-h-6 items-baseline gap-2">
        <input type="checkbox" {...form.register('strongOwners')} />
        What only owners may do takes one who has signed in with a second factor or a passkey.
      </label>
      <datalist id="zones">
        {Intl.supportedValuesOf('timeZone').map((zone) => (
          <option key={zone}>{zone}</option>
        ))}
      </datalist>
      <div className="mt-3 flex items-center gap-3">
        <button type="submit" className="btn btn-primary btn-sm" disabled={!isDirty || save.isPending}>
          Save
        </button>
        <span className="text-secondary">
          What waits already keeps the moment that it was given; another time zone goes for what comes.
        </span>
      </div>
    </form>
  )
} // prettier-ignore
