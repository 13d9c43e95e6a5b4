import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { z } from 'zod'
import { counterEvent } from '../../contract/counter.ts'
import { getJson } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'

/** What came in last, whoever sent it. */
export function LastEvents(): ReactNode {
  const found = useQuery({
    queryKey: ['counter', 'events'],
    queryFn: () => getJson('/api/counter/events', z.array(counterEvent)),
    refetchInterval: 5000,
  })
  if (found.error) return <Problem error={found.error} retry={() => void found.refetch()} />
  if (!found.data) return <Loading what="events" />
  if (found.data.length === 0) return <Empty title="Nothing has come in yet." />
  return (
    <ul className="divide-y divide-base-300/60">
      {found.data.map(({ seq, at, what, customer, about }) => (
        <li key={seq} className="flex flex-wrap items-baseline gap-x-3 px-3 py-1.5">
          <Time at={at} />
          <span className="font-medium">{what}</span>
          <span className="min-w-0 truncate text-secondary">
            {customer}
            {about !== '' && `, ${about}`}
          </span>
        </li>
      ))}
    </ul>
  )
}
