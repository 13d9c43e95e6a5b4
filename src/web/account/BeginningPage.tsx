import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { z } from 'zod'
import { beginningResponse, ownerBeginning, shopBeginning } from '../../contract/beginning.ts'
import { getJson, send } from '../ui/data/api.ts'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { Refusal } from './Refusal.tsx'

type Owner = z.output<typeof ownerBeginning>
type Shop = z.output<typeof shopBeginning>

/** The first visit: who owns the shop, and what it is like. */
export function BeginningPage(): ReactNode {
  const { token } = useParams()
  const { data, error } = useQuery({
    queryKey: ['beginning'],
    queryFn: () => getJson('/api/beginning', beginningResponse),
  })
  return (
    <main className="grid min-h-full place-items-center p-4">
      <div className="panel w-full max-w-xl p-8">
        {error && <Problem error={error} />}
        {!error && !data && <Loading what="Yomble" />}
        {data && !data.isEmpty && <IsThere />}
        {data?.isEmpty && (token === undefined ? <WhereToBegin /> : <Begin token={token} />)}
      </div>
    </main>
  )
}

function IsThere(): ReactNode {
  return (
    <>
      <h1 className="text-xl">There is a shop here already</h1>
      <p className="mt-3">
        <Link className="link" to="/sign-in">
          Sign in
        </Link>
        , or ask its owner to invite you.
      </p>
    </>
  )
}

/** Whoever comes first must not be able to take it from whoever set it up. */
function WhereToBegin(): ReactNode {
  return (
    <>
      <h1 className="text-xl">Nobody is here yet</h1>
      <p className="mt-3">On the machine that Yomble runs on, this prints the link to begin with:</p>
      <p className="mt-2 rounded bg-base-200 p-2 font-mono text-sm">yomble begin</p>
    </>
  )
} // prettier-ignore

function Begin({ token }: { token: string }): ReactNode {
  const [owner, setOwner] = useState<Owner | null>(null)
  const [isBack, setBack] = useState(false)
  const navigate = useNavigate()
  const queries = useQueryClient()
  const begin = useMutation({
    mutationFn: (shop: Shop) => send('POST', '/api/beginning', { token, owner, shop }),
    onSuccess: async () => {
      await queries.resetQueries()
      await navigate('/first-steps', { replace: true })
    },
  })
  return (
    <>
      <h1 className="text-2xl">Welcome to yomble</h1>
      {owner === null || isBack ? (
        <OwnerForm
          owner={owner}
          onDone={(given) => {
            setOwner(given)
            setBack(false)
          }}
        />
      ) : (
        <ShopForm
          owner={owner}
          isPending={begin.isPending}
          error={begin.error}
          onBack={() => setBack(true)}
          onDone={begin.mutate}
        />
      )}
    </>
  )
}

function OwnerForm({ owner, onDone }: { owner: Owner | null; onDone: (owner: Owner) => void }) {
  const form = useZodForm(ownerBeginning, owner ?? { name: '', email: '', password: '' })
  const { errors } = form.formState
  return (
    <form noValidate onSubmit={(event) => void form.handleSubmit(onDone)(event)}>
      <p className="mt-1 mb-4 text-secondary">First you, then your shop. It takes two minutes.</p>
      <FormField label="Your name" autoComplete="name" field={form.register('name')} problem={errors.name} />
      <FormField className="mt-4" label="Email address" type="email" autoComplete="username" field={form.register('email')} problem={errors.email} />
      <FormField className="mt-4" label="Password, at least 12 characters" type="password" autoComplete="new-password" field={form.register('password')} problem={errors.password} />
      <button type="submit" className="btn btn-primary mt-6">
        On to the shop
      </button>
    </form>
  )
} // prettier-ignore

interface ShopFormProps {
  owner: Owner
  isPending: boolean
  error: Error | null
  onBack: () => void
  onDone: (shop: Shop) => void
}

function ShopForm({ owner, isPending, error, onBack, onDone }: ShopFormProps): ReactNode {
  const { locale, timeZone } = new Intl.DateTimeFormat().resolvedOptions()
  const form = useZodForm(shopBeginning, {
    name: '', id: '', zone: timeZone, currency: 'EUR', locale, sender: owner.email, postalAddress: '',
  })
  const { errors, dirtyFields } = form.formState
  const name = form.register('name', {
    onChange: (event: { target: { value: string } }) => {
      if (!dirtyFields.id) form.setValue('id', shortNameOf(event.target.value))
    },
  })
  return (
    <form noValidate onSubmit={(event) => void form.handleSubmit(onDone)(event)}>
      <p className="mt-1 mb-4 text-secondary">The short name and the currency stay; all else can be changed later.</p>
      <FormField label="Name of the shop" field={name} problem={errors.name} />
      <div className="mt-4 grid gap-4 sm:grid-cols-2">
        <FormField label="Short name, for commands" field={form.register('id')} problem={errors.id} />
        <FormField label="Messages come from" type="email" field={form.register('sender')} problem={errors.sender} />
        <FormField label="Time zone" list="zones" field={form.register('zone')} problem={errors.zone} />
        <FormField label="Currency" field={form.register('currency')} problem={errors.currency} />
        <FormField label="Language and region" field={form.register('locale')} problem={errors.locale} />
        <FormField label="Postal address, for the footer" field={form.register('postalAddress')} problem={errors.postalAddress} />
      </div>
      <datalist id="zones">
        {Intl.supportedValuesOf('timeZone').map((zone) => (
          <option key={zone}>{zone}</option>
        ))}
      </datalist>
      <Refusal error={error} />
      <div className="mt-6 flex gap-2">
        <button type="button" className="btn" onClick={onBack}>
          Back
        </button>
        <button type="submit" className="btn btn-primary" disabled={isPending}>
          {isPending ? 'Setting up…' : 'Begin'}
        </button>
      </div>
    </form>
  )
} // prettier-ignore

/** A name in small letters, digits and dashes: “The Apiary” becomes “the-apiary”. */
const shortNameOf = (name: string): string =>
  name
    .normalize('NFD')
    .toLowerCase()
    .replaceAll(/\p{M}/gu, '')
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 40)
