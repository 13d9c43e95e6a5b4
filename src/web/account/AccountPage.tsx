import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import type { z } from 'zod'
import { changePasswordBody, sessionsResponse } from '../../contract/accounts.ts'
import { ROLE_WORDS } from '../../contract/roles.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Time, useSession } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { Passkeys } from './Passkeys.tsx'
import { SecondFactor } from './SecondFactor.tsx'
import { Refusal } from './Refusal.tsx'
import { agentWords } from './agentWords.ts'

/** Somebody's own account: who they are here, their password, and where they are signed in. */
export function AccountPage(): ReactNode {
  const { user, shop } = useSession()
  return (
    <div className="mx-auto max-w-3xl p-4">
      <PageHeading title="Your account" className="mb-1 text-xl" />
      <p className="mb-4 text-secondary">
        {user.name}, {user.email}. {ROLE_WORDS[user.role].name} at {shop.name}: may{' '}
        {ROLE_WORDS[user.role].may}.
      </p>
      <Password />
      <SecondFactor />
      <Passkeys />
      <Sessions />
    </div>
  )
}

function Password(): ReactNode {
  const form = useZodForm(changePasswordBody, { current: '', next: '' })
  const { errors } = form.formState
  const queries = useQueryClient()
  const change = useMutation({
    mutationFn: (body: z.output<typeof changePasswordBody>) =>
      send('PUT', '/api/account/password', body),
    onSuccess: () => {
      form.reset()
      toast.success('Your password is changed. You are signed out everywhere else.')
      return queries.invalidateQueries({ queryKey: ['own sessions'] })
    },
  })
  return (
    <section className="panel mb-4 p-4" aria-label="Password">
      <h2 className="mb-2 text-base">Password</h2>
      <form
        noValidate
        className="flex max-w-sm flex-col gap-3"
        onSubmit={(event) => void form.handleSubmit((body) => change.mutate(body))(event)}
      >
        <FormField
          small
          label="Present password"
          type="password"
          autoComplete="current-password"
          field={form.register('current')}
          problem={errors.current}
        />
        <FormField
          small
          label="New password, at least 12 characters"
          type="password"
          autoComplete="new-password"
          field={form.register('next')}
          problem={errors.next}
        />
        <Refusal error={change.error} />
        <p>
          <button type="submit" className="btn btn-primary btn-sm" disabled={change.isPending}>
            Change it
          </button>
        </p>
      </form>
    </section>
  )
}

function Sessions(): ReactNode {
  const sessions = useQuery({
    queryKey: ['own sessions'],
    queryFn: () => getJson('/api/account/sessions', sessionsResponse),
  })
  const end = useChange(
    (id: string | null) =>
      send('DELETE', `/api/account/sessions${id === null ? '' : `/${encodeURIComponent(id)}`}`),
    'own sessions',
  )
  return (
    <section className="panel p-4" aria-label="Where you are signed in">
      <h2 className="mb-2 text-base">Where you are signed in</h2>
      {sessions.error && <Problem error={sessions.error} retry={() => void sessions.refetch()} />}
      {sessions.isPending && <Loading what="your sessions" />}
      <ul>
        {sessions.data?.map(({ id, agent, startedAt, isThis }) => (
          <li
            key={id}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-base-300/60 py-2"
          >
            <span className="min-w-40 flex-1" title={agent}>
              {agentWords(agent)}
            </span>
            <span className="text-secondary">
              since <Time at={startedAt} />
            </span>
            {isThis ? (
              <span className="text-secondary">this one</span>
            ) : (
              <button type="button" className="btn btn-xs" onClick={() => end.mutate(id)}>
                Sign out there
              </button>
            )}
          </li>
        ))}
      </ul>
      {sessions.data && sessions.data.length > 1 && (
        <button type="button" className="btn btn-sm mt-2" onClick={() => end.mutate(null)}>
          Sign out everywhere else
        </button>
      )}
    </section>
  )
}
