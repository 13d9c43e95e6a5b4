import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { send } from '../ui/data/api.ts'
import { ProblemList } from '../ui/states.tsx'

/** The way in: an address and a password. */
export function SignIn(): ReactNode {
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const navigate = useNavigate()
  const queries = useQueryClient()
  const signIn = useMutation({
    mutationFn: () => send('POST', '/api/session', { email, password }),
    onSuccess: async () => {
      await queries.resetQueries()
      await navigate('/workflows', { replace: true })
    },
  })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    signIn.mutate()
  }
  return (
    <main className="grid h-full place-items-center p-4">
      <form onSubmit={submit} className="panel w-full max-w-sm p-8">
        <h1 className="text-2xl">yomble</h1>
        <p className="mt-1 mb-6 text-secondary">Who gets what, when, and never if.</p>
        <label className="field-label" htmlFor="email">
          Email address
        </label>
        <input
          id="email"
          className="input w-full"
          type="email"
          autoComplete="username"
          value={email}
          onChange={(event) => setEmail(event.target.value)}
          required
        />
        <label className="field-label mt-4" htmlFor="password">
          Password
        </label>
        <input
          id="password"
          className="input w-full"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          required
        />
        {signIn.error && (
          <div role="alert" className="mt-4 text-accent">
            {signIn.error.message}
            <ProblemList error={signIn.error} />
          </div>
        )}
        <button type="submit" className="btn btn-primary mt-6 w-full" disabled={signIn.isPending}>
          {signIn.isPending ? 'Signing in…' : 'Sign in'}
        </button>
      </form>
    </main>
  )
}
