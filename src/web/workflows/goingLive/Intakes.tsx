import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import {
  intakeResponse,
  stoppedResponse,
  type IntakeResponse,
} from '../../../contract/goingLive.ts'
import { dateWords, peopleWords } from '../../../core/words/quantities.ts'
import { getJson, sendJson } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { Part } from './Part.tsx'

/** Who is being let in or was, and the way to stop it. */
export function Intakes({ id }: { id: string }): ReactNode {
  const { zone } = useShop()
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: ['intakes', id],
    queryFn: () => getJson(`/api/workflows/${id}/intakes`, z.array(intakeResponse)),
    refetchInterval: 5000,
  })
  const stop = useMutation({
    mutationFn: () => sendJson('POST', `/api/workflows/${id}/intakes/stop`, stoppedResponse, {}),
    onSuccess: async ({ stopped }) => {
      toast.success(`${peopleWords(stopped)} stay out.`)
      await queries.invalidateQueries({ queryKey: ['intakes', id] })
    },
    onError: (error) => toast.error(error.message),
  })
  if (!data || data.length === 0) return null
  const left = data.reduce((sum, one) => sum + inLine(one), 0)
  return (
    <Part title="Let in so far">
      <ul className="flex flex-col gap-1">
        {data.map((one) => (
          <li key={one.id}>
            {dateWords(one.startedAt, zone)}, by {one.person}: {intakeWords(one)}
          </li>
        ))}
      </ul>
      {left > 0 && (
        <ConfirmButton
          className="btn btn-sm self-start"
          label="Stop letting people in"
          confirm="Stop"
          consequence={`${peopleWords(left)} in line stay out. Whoever has come in goes on.`}
          onConfirm={() => stop.mutate()}
        />
      )}
    </Part>
  )
} // prettier-ignore

const inLine = ({ people, entered, turnedAway, endedAt }: IntakeResponse): number =>
  endedAt === null ? Math.max(0, people - entered - turnedAway) : 0

function intakeWords(one: IntakeResponse): string {
  const { people, entered, turnedAway, endedAt, isStopped, perHour } = one
  const away = turnedAway > 0 ? `, ${turnedAway} turned away` : ''
  const so = `${entered} of ${people} let in${away}`
  if (isStopped) return `${so}, then stopped`
  return endedAt === null ? `${so}, ${perHour} an hour` : so
}
