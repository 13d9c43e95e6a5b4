import { useState, type ReactNode } from 'react'
import type { ConnectionDetail } from '../../contract/connections.ts'
import type { SignatureRule } from '../../core/connections/signature.ts'
import { send } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { ChoiceField, TextField } from '../ui/fields/fields.tsx'

const KINDS = {
  none: 'nothing: the address is secret enough',
  hmac: 'a digest in a header (HMAC, SHA-256)',
  standard: 'Standard Webhooks',
} as const
type Kind = keyof typeof KINDS

/** How what sends proves that it is who it says. */
export function SignatureForm({ detail: { id, rule } }: { detail: ConnectionDetail }): ReactNode {
  const [kind, setKind] = useState<Kind>((rule?.kind as Kind | undefined) ?? 'none')
  const [header, setHeader] = useState(rule?.header || 'X-Signature')
  const [encoding, setEncoding] = useState<'hex' | 'base64'>(rule?.encoding === 'base64' ? 'base64' : 'hex') // prettier-ignore
  const [prefix, setPrefix] = useState(rule?.prefix ?? '')
  const [secret, setSecret] = useState('')
  const save = useChange((signature: SignatureRule | null) => send('PUT', `/api/connections/${id}`, { signature }), 'connection', () => setSecret('')) // prettier-ignore
  const made = (): SignatureRule | null => {
    if (kind === 'none') return null
    return kind === 'standard' ? { kind, secret } : { kind, header, encoding, prefix, secret }
  }
  return (
    <section className="panel p-3" aria-label="Signature">
      <h2 className="text-base">What has to be signed</h2>
      <form
        className="mt-2 grid items-end gap-x-4 sm:grid-cols-3"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate(made())
        }}
      >
        <ChoiceField label="What is asked for" value={kind} choices={KINDS} onChange={setKind} />
        {kind === 'hmac' && (
          <>
            <TextField label="Header" value={header} onChange={setHeader} />
            <ChoiceField label="Written as" value={encoding} choices={{ hex: 'hex', base64: 'base64' }} onChange={setEncoding} />
            <TextField label="What stands before the digest" placeholder="sha256=" value={prefix} onChange={setPrefix} />
          </>
        )}
        {kind !== 'none' && (
          <TextField
            label={rule ? `Secret (the present one ends in ${rule.secretEnd})` : 'Secret'}
            value={secret}
            onChange={setSecret}
          />
        )}
        <p className="mb-3">
          <button type="submit" className="btn btn-sm" disabled={kind !== 'none' && secret.trim().length < 8}>
            Save
          </button>
        </p>
      </form>
    </section>
  )
} // prettier-ignore
