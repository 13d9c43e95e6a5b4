import { useQuery, useQueryClient } from '@tanstack/react-query'
import { QRCodeSVG } from 'qrcode.react'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { z } from 'zod'
import { newSecondFactor, recoveryCodes, turnOffBody, turnOnBody } from '../../contract/accounts.ts'
import { getJson, send, sendJson } from '../ui/data/api.ts'
import { useSession } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading, Problem } from '../ui/states.tsx'

/** A code of a device beside the password. */
export function SecondFactor(): ReactNode {
  const { hasSecondFactor } = useSession().user
  const [isBeginning, setBeginning] = useState(false)
  const [codes, setCodes] = useState<readonly string[] | null>(null)
  return (
    <section className="panel mb-4 p-4" aria-label="Second factor">
      <h2 className="mb-1 text-base">Second factor</h2>
      {codes && <Codes codes={codes} onDone={() => setCodes(null)} />}
      {!codes && hasSecondFactor && <TurnOff />}
      {!codes && !hasSecondFactor && !isBeginning && (
        <>
          <p className="mb-2 text-secondary">
            Signing in takes your password alone. With an authenticator on your phone it takes a code, too:
            who learns your password cannot come in.
          </p>
          <button type="button" className="btn btn-sm" onClick={() => setBeginning(true)}>
            Set it up …
          </button>
        </>
      )}
      {!codes && !hasSecondFactor && isBeginning && <TurnOn onDone={setCodes} />}
    </section>
  )
} // prettier-ignore

function TurnOn({ onDone }: { onDone: (codes: readonly string[]) => void }): ReactNode {
  const { data, error, refetch } = useQuery({
    queryKey: ['new second factor'],
    queryFn: () => getJson('/api/account/second-factor', newSecondFactor),
    // One secret for as long as this stands here, and another the next time.
    staleTime: Infinity,
    gcTime: 0,
  })
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="a secret" />
  return <Confirm {...data} onDone={onDone} />
}

function Confirm({
  secret,
  uri,
  onDone,
}: z.output<typeof newSecondFactor> & { onDone: (codes: readonly string[]) => void }): ReactNode {
  const form = useZodForm(turnOnBody, { secret, code: '' })
  const queries = useQueryClient()
  const turnOn = useChange(
    async (body: z.output<typeof turnOnBody>) => {
      const { codes } = await sendJson('PUT', '/api/account/second-factor', recoveryCodes, body)
      onDone(codes)
    },
    'own sessions',
    () => void queries.invalidateQueries({ queryKey: ['session'] }),
  )
  return (
    <form
      noValidate
      className="flex flex-wrap gap-6"
      onSubmit={(event) => void form.handleSubmit((body) => turnOn.mutate(body))(event)}
    >
      <div className="rounded-field bg-white p-3">
        <QRCodeSVG value={uri} size={168} title="To be read by the authenticator" />
      </div>
      <div className="flex min-w-64 flex-1 flex-col gap-3">
        <p>
          Have your authenticator read this, or type the secret into it:{' '}
          <code className="font-mono text-xs break-all">{secret.match(/.{1,4}/g)?.join(' ')}</code>
        </p>
        <FormField
          small
          className="w-48"
          label="Code that it shows"
          autoComplete="one-time-code"
          field={form.register('code')}
          problem={form.formState.errors.code}
        />
        <p>
          <button type="submit" className="btn btn-primary btn-sm" disabled={turnOn.isPending}>
            Turn it on
          </button>
        </p>
      </div>
    </form>
  )
}

function Codes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }): ReactNode {
  const text = codes.join('\n')
  return (
    <div role="status">
      <p className="mb-2">
        It is on. Keep these codes where you find them without your phone: each lets you in once in place
        of a code. They are not shown again.
      </p>
      <ol className="mb-3 grid max-w-xs grid-cols-2 gap-x-6 font-mono">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ol>
      <p className="flex gap-2">
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void navigator.clipboard.writeText(text).then(() => toast.success('Copied.'))}
        >
          Copy them
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={onDone}>
          I have them
        </button>
      </p>
    </div>
  )
} // prettier-ignore

function TurnOff(): ReactNode {
  const form = useZodForm(turnOffBody, { password: '' })
  const queries = useQueryClient()
  const turnOff = useChange(
    (body: z.output<typeof turnOffBody>) => send('POST', '/api/account/second-factor/off', body),
    'own sessions',
    () => void queries.invalidateQueries({ queryKey: ['session'] }),
  )
  return (
    <form
      noValidate
      onSubmit={(event) => void form.handleSubmit((body) => turnOff.mutate(body))(event)}
    >
      <p className="mb-2 text-secondary">It is on: signing in takes your password and a code.</p>
      <div className="flex flex-wrap items-end gap-2">
        <FormField
          small
          className="w-64"
          label="To turn it off, your password"
          type="password"
          autoComplete="current-password"
          field={form.register('password')}
          problem={form.formState.errors.password}
        />
        <button type="submit" className="btn btn-sm" disabled={turnOff.isPending}>
          Turn it off
        </button>
      </div>
    </form>
  )
}
