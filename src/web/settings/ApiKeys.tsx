import { useQuery } from '@tanstack/react-query'
import { useRef, type ReactNode } from 'react'
import { z } from 'zod'
import { keyScope, SCOPE_WORDS } from '../../contract/scopes.ts'
import {
  apiKeyResponse,
  newApiKeyBody,
  newApiKeyResponse,
  type ApiKeyResponse,
} from '../../contract/session.ts'
import { getJson, send, sendJson } from '../ui/data/api.ts'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { useFocusNear } from '../ui/hooks/useFocusNear.ts'
import { Empty, Loading, Problem } from '../ui/states.tsx'

/** The keys of programs, each for what it was made for. */
export function ApiKeys(): ReactNode {
  const keys = useQuery({
    queryKey: ['keys'],
    queryFn: () => getJson('/api/keys', z.array(apiKeyResponse)),
  })
  const section = useRef<HTMLElement>(null)
  const onPress = useFocusNear(section)
  return (
    <section ref={section} onClickCapture={onPress} className="panel p-4" aria-label="Keys for programs">
      <h2 className="text-base">Keys for programs</h2>
      <p className="mb-3 text-secondary">
        The shop sends CloudEvents to <code className="font-mono text-xs">{location.origin}/v1/events</code> with one of these
        keys. Other programs can do what the screens do, as far as their key goes; what there is stands in the{' '}
        <a className="link" href="/api/openapi.json">
          OpenAPI document
        </a>
        .
      </p>
      <NewKey />
      {keys.error && <Problem error={keys.error} retry={() => void keys.refetch()} />}
      {keys.isPending && <Loading what="keys" />}
      {keys.data && <KeyTable keys={keys.data} />}
    </section>
  )
} // prettier-ignore

function NewKey(): ReactNode {
  const form = useZodForm(newApiKeyBody, { name: '', scopes: ['events'] })
  const create = useChange(
    (body: z.output<typeof newApiKeyBody>) =>
      sendJson('POST', '/api/keys', newApiKeyResponse, body),
    'keys',
    () => form.reset(),
  )
  const problem = form.formState.errors.scopes?.message
  return (
    <>
      <form
        noValidate
        onSubmit={(event) => void form.handleSubmit((body) => create.mutate(body))(event)}
        className="mb-3"
      >
        <div className="flex items-start gap-2">
          <FormField
            hideLabel
            className="flex-1"
            label="Name of the new key"
            placeholder="What it is for, like “web shop”"
            field={form.register('name')}
            problem={form.formState.errors.name}
          />
          <button type="submit" className="btn btn-primary btn-sm" disabled={create.isPending}>
            Make a key
          </button>
        </div>
        <fieldset className="mt-2">
          <legend className="text-secondary">It may</legend>
          {keyScope.options.map((scope) => (
            <label key={scope} className="flex min-h-6 items-baseline gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs self-center"
                value={scope}
                {...form.register('scopes')}
              />
              <span>
                {SCOPE_WORDS[scope].name}:{' '}
                <span className="text-secondary">{SCOPE_WORDS[scope].about}</span>
              </span>
            </label>
          ))}
          {problem && <p className="text-sm text-error">{problem}.</p>}
        </fieldset>
      </form>
      {create.data && (
        <div role="status" className="mb-3 rounded-field border border-primary p-3">
          <p>Copy it now: it is not shown again.</p>
          <code className="mt-1 block font-mono text-xs break-all select-all" data-testid="new-key">
            {create.data.key}
          </code>
        </div>
      )}
    </>
  )
}

function KeyTable({ keys }: { keys: ApiKeyResponse[] }): ReactNode {
  const revoke = useChange(
    (id: string) => send('DELETE', `/api/keys/${encodeURIComponent(id)}`),
    'keys',
  )
  if (keys.length === 0) return <Empty title="No keys yet." />
  return (
    <table className="table table-sm">
      <thead>
        <tr>
          <th scope="col">Name</th>
          <th scope="col">May</th>
          <th scope="col">Begins with</th>
          <th scope="col">Made</th>
          <th scope="col">Last used</th>
          <th scope="col">
            <span className="sr-only">Revoke</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {keys.map(({ id, name, prefix, scopes, createdAt, lastUsedAt }) => (
          <tr key={id}>
            <td>{name}</td>
            <td>{scopes.map((scope) => SCOPE_WORDS[scope].name.toLowerCase()).join(', ')}</td>
            <td className="font-mono text-xs">{prefix}…</td>
            <td>
              <Time at={createdAt} />
            </td>
            <td>{lastUsedAt === null ? 'never' : <Time at={lastUsedAt} />}</td>
            <td className="text-right">
              <ConfirmButton
                className="btn btn-ghost btn-xs"
                label="Revoke"
                ariaLabel={`Revoke ${name}`}
                confirm="Revoke the key"
                consequence="Whatever uses this key can do nothing more here, from now on."
                onConfirm={() => revoke.mutate(id)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
