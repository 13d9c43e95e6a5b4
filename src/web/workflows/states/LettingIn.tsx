import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { intakeResponse } from '../../../contract/goingLive.ts'
import { getJson } from '../../ui/data/api.ts'

/** That people are being let in who qualified before, and how far it has got. */
export function LettingIn({ id }: { id: string }): ReactNode {
  const { data } = useQuery({
    queryKey: ['intakes', id],
    queryFn: () => getJson(`/api/workflows/${id}/intakes`, z.array(intakeResponse)),
    refetchInterval: 10_000,
  })
  const running = (data ?? []).filter(({ endedAt }) => endedAt === null)
  if (running.length === 0) return null
  const all = running.reduce((sum, { people }) => sum + people, 0)
  const done = running.reduce((sum, { entered, turnedAway }) => sum + entered + turnedAway, 0)
  return (
    <Link className="chip border-primary hover:bg-base-200" to={`/workflows/${id}/going-live`}>
      letting people in: {done} of {all}
    </Link>
  )
}
