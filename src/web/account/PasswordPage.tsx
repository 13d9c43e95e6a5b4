import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { z } from 'zod'
import { choosePasswordBody, linkResponse, resetBody } from '../../contract/accounts.ts'
import { getJson, send } from '../ui/data/api.ts'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { Loading } from '../ui/states.tsx'
import { Refusal } from './Refusal.tsx'

/** For who cannot sign in: a link is asked for, or a password chosen by one. */
export function PasswordPage(): ReactNode {
  const { token } = useParams()
  return (
    <main className="grid h-full place-items-center p-4">
      <div className="panel w-full max-w-sm p-8">
        {token === undefined ? <AskForLink /> : <ByLink token={token} />}
        <p className="mt-6">
          <Link className="link" to="/sign-in">
            Sign in
          </Link>
        </p>
      </div>
    </main>
  )
}

function AskForLink(): ReactNode {
  const form = useZodForm(resetBody, { email: '' })
  const ask = useMutation({
    mutationFn: (body: z.output<typeof resetBody>) => send('POST', '/api/password-links', body),
  })
  return (
    <>
      <h1 className="text-xl">A new password</h1>
      {ask.isSuccess ? (
        <p role="status" className="mt-3">
          If {ask.variables.email} has an account here, a link is on its way to it. It works once,
          for an hour.
        </p>
      ) : (
        <form
          noValidate
          onSubmit={(event) => void form.handleSubmit((body) => ask.mutate(body))(event)}
        >
          <p className="mt-1 mb-4 text-secondary">
            A link comes by mail, by which you choose a new one.
          </p>
          <FormField
            label="Email address"
            type="email"
            autoComplete="username"
            field={form.register('email')}
            problem={form.formState.errors.email}
          />
          <Refusal error={ask.error} />
          <button type="submit" className="btn btn-primary mt-4 w-full" disabled={ask.isPending}>
            Send me a link
          </button>
        </form>
      )}
    </>
  )
}

function ByLink({ token }: { token: string }): ReactNode {
  const path = `/api/password-links/${encodeURIComponent(token)}`
  const { data, error, isPending } = useQuery({
    queryKey: ['password link', token],
    queryFn: () => getJson(path, linkResponse),
    retry: false,
    // Once it is used it is there no more; what was read of it stays on the page until then.
    staleTime: Infinity,
  })
  if (isPending) return <Loading what="the link" />
  if (error) {
    return (
      <>
        <h1 className="text-xl">This link does not work</h1>
        <p className="mt-3">{error.message}</p>
        <p className="mt-3">
          <Link className="link" to="/password">
            Ask for a new one
          </Link>
        </p>
      </>
    )
  }
  return <Choose path={path} {...data} />
}

function Choose({ path, kind, name, email }: z.output<typeof linkResponse> & { path: string }) {
  const form = useZodForm(choosePasswordBody, { next: '' })
  const navigate = useNavigate()
  const queries = useQueryClient()
  const choose = useMutation({
    mutationFn: async (body: z.output<typeof choosePasswordBody>) => {
      await send('POST', path, body)
      return isIn({ email, password: body.next })
    },
    onSuccess: async (is) => {
      await queries.resetQueries({ queryKey: ['session'] })
      await navigate(is ? '/today' : '/sign-in', { replace: true })
    },
  })
  return (
    <form
      noValidate
      onSubmit={(event) => void form.handleSubmit((body) => choose.mutate(body))(event)}
    >
      <h1 className="text-xl">{kind === 'invitation' ? `Welcome, ${name}` : 'A new password'}</h1>
      <p className="mt-1 mb-4 text-secondary">
        Choose a password for {email}. Several words that do not belong together are easy to
        remember and hard to try.
      </p>
      <input type="hidden" name="username" autoComplete="username" value={email} readOnly />
      <FormField
        label="New password, at least 12 characters"
        type="password"
        autoComplete="new-password"
        field={form.register('next')}
        problem={form.formState.errors.next}
      />
      <Refusal error={choose.error} />
      <button type="submit" className="btn btn-primary mt-4 w-full" disabled={choose.isPending}>
        Choose it and sign in
      </button>
    </form>
  )
}

/** Signs in with a password that was just chosen; false where that takes more than the password, or another try. */
async function isIn(body: { email: string; password: string }): Promise<boolean> {
  try {
    await send('POST', '/api/session', body)
    return true
  } catch {
    // The password is chosen all the same. What is still needed, a code perhaps, is asked for where one signs in.
    return false
  }
}
