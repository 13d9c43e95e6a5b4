import { useQuery } from '@tanstack/react-query'
import { useId, type ReactNode } from 'react'
import type { z } from 'zod'
import { getDated } from '../ui/data/api.ts'
import { AS_OF_POLL_MS, AsOf } from '../ui/figures/AsOf.tsx'
import { Loading, Problem } from '../ui/states.tsx'

interface Props<Schema extends z.ZodType> {
  title: string
  /** What is counted, in a line. */
  note?: string
  path: string
  schema: Schema
  children: (data: z.output<Schema>) => ReactNode
}

/** One part of the page, with what it is made of: it comes when it is there, and fails by itself. */
export function Part<Schema extends z.ZodType>({
  title,
  note,
  path,
  schema,
  children,
}: Props<Schema>): ReactNode {
  const id = useId()
  const { data, error, isPending, refetch } = useQuery({
    queryKey: ['today', path],
    queryFn: ({ signal }) => getDated(path, schema, signal),
    staleTime: 60_000,
    refetchInterval: ({ state }) => ((state.data?.asOf ?? null) === null ? false : AS_OF_POLL_MS),
  })
  return (
    <section className="panel p-4" aria-labelledby={id}>
      <h2 id={id} className="text-base">
        {title} <AsOf at={data?.asOf ?? null} />
      </h2>
      {note && <p className="mb-2 text-xs text-secondary">{note}</p>}
      {error && <Problem error={error} retry={() => void refetch()} />}
      {isPending && <Loading what={title.toLowerCase()} />}
      {data !== undefined && children(data.data)}
    </section>
  )
}
