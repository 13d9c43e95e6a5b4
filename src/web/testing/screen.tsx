import type { ProblemResponse } from '../../contract/problem.ts'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { Toaster } from 'sonner'
import { vi } from 'vitest'
import type { SessionResponse } from '../../contract/session.ts'
import { SessionProvider } from '../ui/data/shop.tsx'

const SESSION: SessionResponse = {
  user: {
    name: 'Maren',
    email: 'maren@combwright.example',
    role: 'owner',
    hasSecondFactor: false,
    isStrong: false,
  },
  shop: {
    id: 'combwright',
    name: 'Combwright',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    locale: 'en-IE',
    defaultSender: { name: 'Combwright', address: 'hello@combwright.example' },
  },
  shops: [{ id: 'combwright', name: 'Combwright' }],
}

/** What was asked of the server. */
export interface Asked {
  method: string
  path: string
  body: unknown
}

/**
 * What the server says, by path, or by method and path: "POST /api/workflows"; whatever is asked in
 * the path's query, unless that is part of the key. A function is asked each time, with what it was
 * sent and the path.
 */
export type Answers = Readonly<Record<string, unknown>>

/** A refusal as the server writes it, with what is in the way: each a path and its message. */
export const aProblem = (
  status: number,
  detail: string,
  problems: Readonly<Record<string, string>> = {},
): ProblemResponse => {
  const code = CODES[status] ?? 'internal'
  const list = Object.entries(problems).map(([path, message]) => ({ path, message }))
  return { type: `/api/problems#${code}`, title: detail, status, detail, code, problems: list }
}

/** The same as an answer. */
export const refusal = (...told: Parameters<typeof aProblem>): Response =>
  Response.json(aProblem(...told), { status: told[0] })

const CODES: Readonly<Record<number, string>> = {
  400: 'bad_input',
  404: 'not_found',
  409: 'conflict',
  422: 'not_ready',
  500: 'internal',
}

/** The answer of what has nothing to say. */
export const done = (): Response => new Response(null, { status: 204 })

interface As {
  address?: string
  role?: SessionResponse['user']['role']
}

/** Shows something as someone who is signed in sees it. Returns what has been asked of the server by then. */
export function show(
  element: ReactNode,
  answers: Answers = {},
  { address = '/', role = 'owner' }: As = {},
): Asked[] {
  const asked: Asked[] = []
  vi.stubGlobal('fetch', async (path: string, { method = 'GET', body }: RequestInit = {}) => {
    const sent: unknown = typeof body === 'string' ? JSON.parse(body) : body
    asked.push({ method, path, body: sent })
    const [bare = path] = path.split('?')
    const keys = [`${method} ${path}`, path, `${method} ${bare}`, bare]
    const answer = keys.map((key) => answers[key]).find((one) => one !== undefined)
    if (answer === undefined) throw new Error(`Nothing answers ${method} ${path}`)
    const given: unknown = await (typeof answer === 'function' ? answer(sent, path) : answer)
    return given instanceof Response ? given : Response.json(given)
  })
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[address]}>
        <SessionProvider value={{ ...SESSION, user: { ...SESSION.user, role } }}>
          {element}
        </SessionProvider>
      </MemoryRouter>
      <Toaster />
    </QueryClientProvider>,
  )
  return asked
}

interface HeldProps<Value> {
  first: Value
  told: (value: Value) => void
  children: (value: Value, onChange: (to: Value) => void) => ReactNode
}

function Held<Value>({ first, told, children }: HeldProps<Value>): ReactNode {
  const [value, setValue] = useState(first)
  return children(value, (to) => {
    told(to)
    setValue(to)
  })
}

/** Shows a field that keeps what is put into it. Returns what it holds by then. */
export function showField<Value>(
  first: Value,
  children: HeldProps<Value>['children'],
  answers?: Answers,
): () => Value {
  let value = first
  const told = (to: Value) => {
    value = to
  }
  show(
    <Held first={first} told={told}>
      {children}
    </Held>,
    answers,
  )
  return () => value
}
