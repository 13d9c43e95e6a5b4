import { useQuery } from '@tanstack/react-query'
import { Cable, Images, Palette } from 'lucide-react'
import { type ComponentType, useEffect, useRef, type ReactNode } from 'react'
import { Link, useLocation } from 'react-router'
import { z } from 'zod'
import {
  apiKeyResponse,
  newApiKeyBody,
  newApiKeyResponse,
  type ApiKeyResponse,
} from '../../contract/session.ts'
import { getJson, send, sendJson } from '../ui/data/api.ts'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Time, useSession } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { Senders } from './addresses/Senders.tsx'
import { StaffGroups } from './addresses/StaffGroups.tsx'
import { Notices } from './Notices.tsx'
import { RetentionForm } from './RetentionForm.tsx'
import { ShopRules } from './ShopRules.tsx'
import { useFocusNear } from '../ui/hooks/useFocusNear.ts'
import { useChange } from '../ui/data/useChange.tsx'

/** What is set once: rules for all workflows, and the keys with which other systems send events. */
export function SettingsPage(): ReactNode {
  const isMarketer = useSession().user.role === 'marketer'
  useScrollToHash()
  return (
    <div className="mx-auto max-w-3xl p-4">
      <PageHeading title="Settings" className="mb-3 text-xl" />
      <Door to="/settings/brand" Icon={Palette} title="Brand">
        Logo, colours, typefaces and footer of every designed message.
      </Door>
      <Door to="/settings/files" Icon={Images} title="Pictures and files">
        What was put in for messages, where it is used, and replaced everywhere.
      </Door>
      {isMarketer && (
        <Door to="/settings/connections" Icon={Cable} title="Connections">
          What other systems send in a language of their own, and the events that are made of it.
        </Door>
      )}
      {isMarketer && (
        <>
          <Senders />
          <StaffGroups />
        </>
      )}
      <Notices mayEdit={isMarketer} />
      {isMarketer ? (
        <>
          <ShopRules />
          <RetentionForm />
          <ApiKeys />
        </>
      ) : (
        <p className="panel p-4">Only marketers can change settings.</p>
      )}
    </div>
  )
}

/** Links from elsewhere lead to a part of the page: "/settings#senders". */
function useScrollToHash(): void {
  const { hash } = useLocation()
  useEffect(() => {
    // What scrolling returns is no cleanup: newer browsers return a promise.
    document.getElementById(hash.slice(1))?.scrollIntoView()
  }, [hash])
}

function ApiKeys(): ReactNode {
  const keys = useQuery({
    queryKey: ['keys'],
    queryFn: () => getJson('/api/keys', z.array(apiKeyResponse)),
  })
  const section = useRef<HTMLElement>(null)
  const onPress = useFocusNear(section)
  return (
    <section
      ref={section}
      onClickCapture={onPress}
      className="panel p-4"
      aria-label="Keys for events"
    >
      <h2 className="text-base">Keys for events</h2>
      <p className="mb-3 text-secondary">
        The shop sends CloudEvents to{' '}
        <code className="font-mono text-xs">{location.origin}/v1/events</code> with one of these
        keys.
      </p>
      <NewKey />
      {keys.error && <Problem error={keys.error} retry={() => void keys.refetch()} />}
      {keys.isPending && <Loading what="keys" />}
      {keys.data && <KeyTable keys={keys.data} />}
    </section>
  )
}

function NewKey(): ReactNode {
  const form = useZodForm(newApiKeyBody, { name: '' })
  const create = useChange(
    (body: z.output<typeof newApiKeyBody>) =>
      sendJson('POST', '/api/keys', newApiKeyResponse, body),
    'keys',
    () => form.reset(),
  )
  return (
    <>
      <form
        noValidate
        onSubmit={(event) => void form.handleSubmit((body) => create.mutate(body))(event)}
        className="mb-3 flex items-start gap-2"
      >
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
          <th scope="col">Begins with</th>
          <th scope="col">Made</th>
          <th scope="col">Last used</th>
          <th scope="col">
            <span className="sr-only">Revoke</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {keys.map(({ id, name, prefix, createdAt, lastUsedAt }) => (
          <tr key={id}>
            <td>{name}</td>
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
                consequence="Whatever uses this key can send no more events, from now on."
                onConfirm={() => revoke.mutate(id)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

interface DoorProps {
  to: string
  Icon: ComponentType<{ size: number; 'aria-hidden': 'true' }>
  title: string
  children: ReactNode
}

/** The way to a page of settings of its own. */
function Door({ to, Icon, title, children }: DoorProps): ReactNode {
  return (
    <Link className="panel mb-4 flex items-center gap-3 p-4 hover:border-primary" to={to}>
      <Icon size={18} aria-hidden="true" />
      <span>
        <span className="block font-medium">{title}</span>
        <span className="text-secondary">{children}</span>
      </span>
    </Link>
  )
}
