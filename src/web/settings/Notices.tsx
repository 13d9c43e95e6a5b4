import { useQuery } from '@tanstack/react-query'
import { TriangleAlert } from 'lucide-react'
import { useRef, type ReactNode } from 'react'
import { noticesResponse, type NoticeResponse } from '../../contract/notices.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Loading, Problem } from '../ui/states.tsx'
import { useFocusNear } from '../ui/hooks/useFocusNear.ts'
import { useChange } from '../ui/data/useChange.tsx'

/** Who sends the shop's built-in notices: the shop itself, or a workflow that has taken one over. */
export function Notices({ mayEdit }: { mayEdit: boolean }): ReactNode {
  const notices = useQuery({
    queryKey: ['notices'],
    queryFn: () => getJson('/api/notices', noticesResponse),
  })
  const save = useChange(
    ({ key, takenBy }: { key: string; takenBy: string | null }) =>
      send('PUT', `/api/notices/${key}`, { takenBy }),
    'notices',
  )
  const section = useRef<HTMLElement>(null)
  const onPress = useFocusNear(section)
  return (
    <section
      ref={section}
      onClickCapture={onPress}
      className="panel mb-4 p-4"
      aria-label="The shop’s own notices"
    >
      <h2 className="text-base">The shop’s own notices</h2>
      <p className="mb-3 text-secondary">
        What the shop sends by itself until a workflow takes it over. The shop asks at{' '}
        <code className="font-mono text-xs">{location.origin}/v1/notices</code> which ones it is to
        send.
      </p>
      {notices.error && <Problem error={notices.error} retry={() => void notices.refetch()} />}
      {notices.isPending && <Loading what="the notices" />}
      {notices.data && (
        <table className="table table-sm">
          <thead>
            <tr>
              <th scope="col">Notice</th>
              <th scope="col">Sent by</th>
            </tr>
          </thead>
          <tbody>
            {notices.data.map((notice) => (
              <Row
                key={notice.key}
                notice={notice}
                mayEdit={mayEdit}
                onTake={(takenBy) => save.mutate({ key: notice.key, takenBy })}
              />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

const TROUBLE = {
  both: 'Both send it now: the customer gets it twice.',
  neither: 'Its workflow is not live or sends no such message: the shop sends it meanwhile.',
} as const

interface RowProps {
  notice: NoticeResponse
  mayEdit: boolean
  onTake: (takenBy: string | null) => void
}

function Row({ notice, mayEdit, onTake }: RowProps): ReactNode {
  const { label, takenBy, candidates, trouble } = notice
  const isGone = takenBy !== null && !candidates.some(({ id }) => id === takenBy)
  return (
    <tr>
      <td className="align-top">{label}</td>
      <td>
        <span className="flex items-center gap-2">
          {candidates.length === 0 && takenBy === null ? (
            <span className="text-secondary">the shop</span>
          ) : (
            <select
              className="select select-xs w-64"
              aria-label={`Who sends: ${label}`}
              disabled={!mayEdit}
              value={takenBy ?? ''}
              onChange={(event) => onTake(event.target.value === '' ? null : event.target.value)}
            >
              <option value="">the shop</option>
              {candidates.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
              {isGone && <option value={takenBy}>a workflow that does not send it</option>}
            </select>
          )}
          {takenBy !== null && mayEdit && (
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Back to the shop: ${label}`}
              onClick={() => onTake(null)}
            >
              Back to the shop
            </button>
          )}
        </span>
        {trouble && (
          <span className="mt-1 flex items-center gap-1.5 text-xs text-accent">
            <TriangleAlert size={13} aria-hidden="true" /> {TROUBLE[trouble]}
          </span>
        )}
      </td>
    </tr>
  )
}
