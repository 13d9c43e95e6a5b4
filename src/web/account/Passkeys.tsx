import { browserSupportsWebAuthn, startRegistration } from '@simplewebauthn/browser'
import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { z } from 'zod'
import {
  newPasskeyBody,
  creationOptions,
  passkeysResponse,
  type Passkey,
} from '../../contract/passkeys.ts'
import { getJson, send, sendJson } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { agentWords } from './agentWords.ts'
import { passkeyWords, type CreationOptions } from './passkeyWords.ts'

/** What signs in without a password: a fingerprint, a face, or a key that is plugged in. */
export function Passkeys(): ReactNode {
  const passkeys = useQuery({
    queryKey: ['own passkeys'],
    queryFn: () => getJson('/api/account/passkeys', passkeysResponse),
  })
  const [isMaking, setMaking] = useState(false)
  const remove = useChange(
    ({ id }: Passkey) => send('DELETE', `/api/account/passkeys/${encodeURIComponent(id)}`),
    'own passkeys',
    ({ name }) => void toast.success(`“${name}” signs in no more.`),
  )
  return (
    <section className="panel mb-4 p-4" aria-label="Passkeys">
      <h2 className="mb-1 text-base">Passkeys</h2>
      <p className="mb-2 text-secondary">
        A passkey signs you in with your fingerprint, your face or a key that you plug in. It stands for
        password and second factor together, and works on this site alone, so nobody can lure it away.
      </p>
      {passkeys.error && <Problem error={passkeys.error} retry={() => void passkeys.refetch()} />}
      {passkeys.isPending && <Loading what="your passkeys" />}
      <ul>
        {passkeys.data?.map((passkey) => (
          <li key={passkey.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-base-300/60 py-2">
            <span className="min-w-40 flex-1 break-words">{passkey.name}</span>
            <span className="text-secondary">
              {passkey.lastUsedAt === null ? 'not used yet' : <>used <Time at={passkey.lastUsedAt} /></>}
            </span>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Remove ${passkey.name}`}
              onClick={() => remove.mutate(passkey)}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      {!isMaking && (
        <button type="button" className="btn btn-sm mt-1" onClick={() => setMaking(true)}>
          Add a passkey …
        </button>
      )}
      {isMaking && <Make onDone={() => setMaking(false)} />}
    </section>
  )
} // prettier-ignore

function Make({ onDone }: { onDone: () => void }): ReactNode {
  const form = useZodForm(newPasskeyBody, { name: agentWords(navigator.userAgent), password: '' })
  const { errors } = form.formState
  const make = useChange(
    async ({ name, password }: z.output<typeof newPasskeyBody>) => {
      const optionsJSON = (await sendJson('POST', '/api/account/passkeys/options', creationOptions, { password })) as CreationOptions
      const made = await startRegistration({ optionsJSON }).catch((error: unknown) => {
        throw new Error(passkeyWords(error))
      })
      await send('POST', '/api/account/passkeys', { name, made })
    },
    'own passkeys',
    () => {
      toast.success('It is kept. Use it the next time you sign in.')
      onDone()
    },
  )
  if (!browserSupportsWebAuthn()) {
    return <p role="status">This browser can make none here: it takes a recent one, and an address with https.</p>
  }
  return (
    <form
      noValidate
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => void form.handleSubmit((body) => make.mutate(body))(event)}
    >
      <FormField small className="w-56" label="Name, to know it again" field={form.register('name')} problem={errors.name} />
      <FormField
        small
        className="w-56"
        label="Your password"
        type="password"
        autoComplete="current-password"
        field={form.register('password')}
        problem={errors.password}
      />
      <button type="submit" className="btn btn-primary btn-sm" disabled={make.isPending}>
        {make.isPending ? 'Waiting for the device…' : 'Make it'}
      </button>
      <button type="button" className="btn btn-sm" onClick={onDone}>
        Not now
      </button>
    </form>
  )
} // prettier-ignore
