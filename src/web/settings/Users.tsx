import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import type { z } from 'zod'
import { inviteBody, usersResponse, type User } from '../../contract/accounts.ts'
import { mayOwn, ROLE_WORDS, ROLES, type Role } from '../../contract/roles.ts'
import { getJson, send } from '../ui/data/api.ts'
import { useSession } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading, Problem } from '../ui/states.tsx'

/** Who works here, and what each may do. */
export function Users(): ReactNode {
  const mayChange = mayOwn(useSession().user.role)
  const users = useQuery({
    queryKey: ['users'],
    queryFn: () => getJson('/api/users', usersResponse),
  })
  return (
    <section className="panel mb-4 p-4" aria-label="Who works here">
      <h2 className="text-base">Who works here</h2>
      <ul className="mb-3 text-secondary">
        {ROLES.map((role) => (
          <li key={role}>
            {ROLE_WORDS[role].name}: may {ROLE_WORDS[role].may}.
          </li>
        ))}
      </ul>
      {users.error && <Problem error={users.error} retry={() => void users.refetch()} />}
      {users.isPending && <Loading what="who works here" />}
      <ul>
        {users.data?.map((user) => (
          <OneUser key={user.id} user={user} mayChange={mayChange} />
        ))}
      </ul>
      {mayChange ? (
        <Invite />
      ) : (
        <p className="mt-2 text-secondary">Owners invite people and say what they may do.</p>
      )}
    </section>
  )
}

function OneUser({ user, mayChange }: { user: User; mayChange: boolean }): ReactNode {
  const path = `/api/users/${encodeURIComponent(user.id)}`
  const change = useChange((role: Role) => send('PUT', `${path}/role`, { role }), 'users')
  const remove = useChange(() => send('DELETE', path), 'users')
  const again = useChange(
    () => send('POST', `${path}/invitation`),
    'users',
    () => toast.success(`Another invitation is on its way to ${user.email}.`),
  )
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-base-300/60 py-2">
      <span className="min-w-48 flex-1">
        <span className="block font-medium">{user.name}</span>
        <span className="block text-xs text-secondary">
          {user.email}
          {user.isInvited && ', invited'}
        </span>
      </span>
      {mayChange ? (
        <>
          {user.isInvited && (
            <button type="button" className="btn btn-xs" onClick={() => again.mutate()}>
              Invite again
            </button>
          )}
          <select
            className="select select-sm w-32"
            aria-label={`What ${user.name} may do`}
            value={user.role}
            disabled={change.isPending}
            onChange={({ target }) => change.mutate(ROLES.find((role) => role === target.value) ?? user.role)}
          >
            {ROLES.map((role) => (
              <option key={role} value={role}>
                {ROLE_WORDS[role].name}
              </option>
            ))}
          </select>
          <ConfirmButton
            label="Remove"
            className="btn btn-ghost btn-xs"
            consequence={`${user.name} is signed out everywhere and cannot sign in again. What they did stays under their name.`}
            confirm={`Remove ${user.name}`}
            onConfirm={() => remove.mutate()}
          />
        </>
      ) : (
        <span className="text-secondary">{ROLE_WORDS[user.role].name}</span>
      )}
    </li>
  )
} // prettier-ignore

function Invite(): ReactNode {
  const form = useZodForm(inviteBody, { email: '', name: '', role: 'marketer' })
  const { errors } = form.formState
  const invite = useChange(
    (body: z.output<typeof inviteBody>) => send('POST', '/api/users', body),
    'users',
    () => {
      toast.success('The invitation is on its way. Its link works for seven days.')
      form.reset()
    },
  )
  return (
    <form
      noValidate
      className="mt-3 flex flex-wrap items-end gap-2 border-t border-base-300/60 pt-3"
      onSubmit={(event) => void form.handleSubmit((body) => invite.mutate(body))(event)}
    >
      <FormField small className="w-40" label="Name" field={form.register('name')} problem={errors.name} />
      <FormField small className="w-56" label="Email address" type="email" field={form.register('email')} problem={errors.email} />
      <label className="flex flex-col">
        <span className="field-label">May do</span>
        <select className="select select-sm w-32" {...form.register('role')}>
          {ROLES.map((role) => (
            <option key={role} value={role}>
              {ROLE_WORDS[role].name}
            </option>
          ))}
        </select>
      </label>
      <button type="submit" className="btn btn-primary btn-sm" disabled={invite.isPending}>
        Invite
      </button>
    </form>
  )
} // prettier-ignore
