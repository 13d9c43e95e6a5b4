import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { noticesResponse } from '../../../contract/notices.ts'
import { noticesSentOn } from '../../../core/check/shop/notices.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { TickField } from '../../ui/fields/TickField.tsx'
import { Part } from './Part.tsx'
import { useBeforeLive } from './useBeforeLive.ts'

const counted = (count: number): string => count.toLocaleString('en-IE')

/** So many other workflows are named. */
const NAMED = 6

interface Props {
  id: string
  definition: Definition
  /** The draft as the server has it; null while it is being saved. */
  saved: Definition | null
  takeOver: string | null
  onTakeOver: (notice: string | null) => void
}

/** What the same people get beside it: from other workflows, and from the shop itself. */
export function AlsoGet({ id, definition, saved, takeOver, onTakeOver }: Props): ReactNode {
  const { data } = useBeforeLive(id, saved)
  const notices = useQuery({
    queryKey: ['notices'],
    queryFn: () => getJson('/api/notices', noticesResponse),
  })
  const past = data?.past
  const own = noticesSentOn(definition)
  const sent = (notices.data ?? []).filter(({ key }) => own.includes(key))
  if (!past && sent.length === 0) return null
  const others = past ? past.beside.slice(0, NAMED) : []
  return (
    <Part title="What the same people get beside it">
      {past && past.people > 0 && (
        <p className="text-secondary">
          {others.length === 0
            ? 'Nothing from other workflows in the last 90 days.'
            : `Of the ${counted(past.people)} who would have come in over the last 90 days, in that time:`}
        </p>
      )}
      {others.length > 0 && (
        <ul className="list-disc pl-5">
          {others.map(({ workflowId, name, people, messages }) => (
            <li key={workflowId}>
              {counted(people)} got {messages === 1 ? '1 message' : `${counted(messages)} messages`}{' '}
              from{' '}
              <Link className="link" to={`/workflows/${workflowId}`}>
                {name}
              </Link>
            </li>
          ))}
          {past && past.beside.length > NAMED && (
            <li className="text-secondary">and {past.beside.length - NAMED} more workflows</li>
          )}
        </ul>
      )}
      {sent.map(({ key, label, takenBy, candidates }) => {
        if (takenBy === id) return <p key={key}>It sends the shop’s “{label}” in its place.</p>
        const other = candidates.find((one) => one.id === takenBy)
        if (other)
          return (
            <p key={key}>
              “{other.name}” sends the shop’s “{label}” already.
            </p>
          )
        return (
          <TickField
            key={key}
            checked={takeOver === key}
            onChange={(checked) => onTakeOver(checked ? key : null)}
          >
            <span>
              The shop sends “{label}” by itself. Take it over: the shop is told to be silent.
            </span>
          </TickField>
        )
      })}
    </Part>
  )
}
