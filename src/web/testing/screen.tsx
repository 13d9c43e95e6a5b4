import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { vi } from 'vitest'
import type { SessionResponse } from '../../contract/session.ts'
import { SessionProvider } from '../ui/shop.tsx'

const SESSION: SessionResponse = {
  user: { name: 'Maren', email: 'maren@combwright.example', role: 'marketer' },
  shop: {
    name: 'Combwright',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    locale: 'en-IE',
    defaultSender: { name: 'Combwright', address: 'hello@combwright.example' },
  },
}

/** Shows something as a signed-in marketer sees it. `answers` is what the server says, by path. */
export function show(element: ReactNode, answers: Readonly<Record<string, unknown>> = {}): void {
  vi.stubGlobal('fetch', async (path: string) => {
    const answer = answers[path]
    if (answer === undefined) throw new Error(`Nothing answers ${path}`)
    return Response.json(answer)
  })
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter>
        <SessionProvider value={SESSION}>{element}</SessionProvider>
      </MemoryRouter>
    </QueryClientProvider>,
  )
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
  answers?: Readonly<Record<string, unknown>>,
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
