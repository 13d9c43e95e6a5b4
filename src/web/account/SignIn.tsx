import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link, Navigate, useNavigate } from 'react-router'
import type { z } from 'zod'
import { beginningResponse } from '../../contract/beginning.ts'
import { signInBody } from '../../contract/session.ts'
import { ApiError, getJson, send } from '../ui/data/api.ts'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { PasskeySignIn } from './PasskeySignIn.tsx'
import { Refusal } from './Refusal.tsx'

/** The way in: an address and a password. */
export function SignIn(): ReactNode {
  const form = useZodForm(signInBody, { email: '', password: '', code: '' })
  const { errors } = form.formState
  const navigate = useNavigate()
  const queries = useQueryClient()
  const enter = async () => {
    await queries.resetQueries()
    await navigate('/today', { replace: true })
  }
  const signIn = useMutation({
    mutationFn: (body: z.output<typeof signInBody>) => send('POST', '/api/session', body),
    onSuccess: enter,
  })
  const beginning = useQuery({
    queryKey: ['beginning'],
    queryFn: () => getJson('/api/beginning', beginningResponse),
  })
  const { error } = signIn
  const problem =
    error instanceof ApiError ? error.body.problems.find(({ path }) => path === 'code') : undefined
  // Once it was asked for it stays: a slip of the password does not take it away again.
  const [asksForCode, setAsksForCode] = useState(false)
  if (problem && !asksForCode) setAsksForCode(true)
  const isFirstAsk = problem?.message === 'is missing'
  return (
    <main className="grid h-full place-items-center p-4">
      {beginning.data?.isEmpty && <Navigate to="/begin" replace />}
      <form
        noValidate
        onSubmit={(event) => void form.handleSubmit((body) => signIn.mutate(body))(event)}
        className="panel w-full max-w-sm p-8"
      >
        <h1 className="text-2xl">yomble</h1>
        <p className="mt-1 mb-6 text-secondary">Who gets what, when, and never if.</p>
        <FormField
          label="Email address"
          type="email"
          autoComplete="username"
          field={form.register('email')}
          problem={errors.email}
        />
        <FormField
          className="mt-4"
          label="Password"
          type="password"
          autoComplete="current-password"
          field={form.register('password')}
          problem={errors.password}
        />
        {asksForCode && (
          <FormField
            className="mt-4"
            label="Code that your device shows, or one for a lost device"
            autoComplete="one-time-code"
            field={form.register('code')}
            problem={errors.code}
          />
        )}
        <Refusal error={isFirstAsk ? null : error} />
        <button type="submit" className="btn btn-primary mt-6 w-full" disabled={signIn.isPending}>
          {signIn.isPending ? 'Signing in…' : 'Sign in'}
        </button>
        <PasskeySignIn onDone={enter} />
        <p className="mt-4">
          <Link className="link" to="/password">
            I have forgotten my password
          </Link>
        </p>
      </form>
    </main>
  )
}
