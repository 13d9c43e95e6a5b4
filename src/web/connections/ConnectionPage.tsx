import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { connectionAddress, connectionDetail, replayAnswer, tryAnswer, type ConnectionBody, type ConnectionDetail } from '../../contract/connections.ts' // prettier-ignore
import { plural } from '../../core/words/quantities.ts'
import { getJson, send, sendJson } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { useSettled } from '../ui/hooks/useSettled.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { NewAddress } from './NewAddress.tsx'
import { PullForm } from './PullForm.tsx'
import { SignatureForm } from './SignatureForm.tsx'

const BEGINNING = `{
  "type": "order.placed",
  "time": created_at,
  "data": { }
}`

/** One connection: what came last, and beside it the expression that makes events of it. */
export function ConnectionPage(): ReactNode {
  const { id = '' } = useParams()
  const { data, error, refetch } = useQuery({
    queryKey: ['connection', id],
    queryFn: () => getJson(`/api/connections/${id}`, connectionDetail),
    refetchInterval: 5000,
  })
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="the connection" />
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/settings/connections" className="hover:underline">
          Connections
        </Link>
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <PageHeading title={data.name} className="mr-auto text-xl" />
        <Actions detail={data} />
      </div>
      <Mapping key={data.id} detail={data} />
      <SignatureForm detail={data} />
      <PullForm detail={data} />
    </div>
  )
}

function Actions({ detail: { id, isOn } }: { detail: ConnectionDetail }): ReactNode {
  const navigate = useNavigate()
  const address = useChange(() => sendJson('POST', `/api/connections/${id}/address`, connectionAddress), 'connection') // prettier-ignore
  const set = useChange((to: { isOn: boolean }) => send('PUT', `/api/connections/${id}`, to), 'connection') // prettier-ignore
  const remove = useChange(() => send('DELETE', `/api/connections/${id}`), 'connections', () => void navigate('/settings/connections')) // prettier-ignore
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => set.mutate({ isOn: !isOn })}>
        {isOn ? 'Switch it off' : 'Switch it on'}
      </button>
      <ConfirmButton
        label="New address"
        consequence="The address there is now leads nowhere any more. What sends to it has to be told the new one."
        confirm="Make a new address"
        onConfirm={() => address.mutate()}
      />
      <ConfirmButton
        label="Take it away"
        consequence="Its address leads nowhere, and what is kept of it goes. The events that it brought stay."
        confirm="Take it away"
        onConfirm={() => remove.mutate()}
      />
      {address.data && <div className="w-full"><NewAddress address={address.data.address} /></div>}
    </>
  )
} // prettier-ignore

function Mapping({ detail }: { detail: ConnectionDetail }): ReactNode {
  const { id, mapping, bodies } = detail
  const [text, setText] = useState(mapping === '' ? BEGINNING : mapping)
  const [chosen, setChosen] = useState<number | null>(null)
  const readable = bodies.filter(({ state }) => state !== 'unsigned')
  const sample = readable.find((one) => one.id === chosen) ?? readable[0]
  const refused = bodies.filter(({ state }) => state === 'refused').length
  const save = useChange(() => send('PUT', `/api/connections/${id}`, { mapping: text }), 'connection', () => toast.success('It holds for what comes from now on.')) // prettier-ignore
  const replay = useChange(() => sendJson('POST', `/api/connections/${id}/replay`, replayAnswer), 'connection') // prettier-ignore
  return (
    <div className="mb-4 grid grid-cols-2 items-start gap-4 max-lg:grid-cols-1">
      <section className="panel min-w-0 p-3" aria-label="What came">
        <h2 className="mb-2 text-base">What came</h2>
        {bodies.length === 0 && <p className="text-secondary">Nothing yet. Send something to its address; it appears here.</p>}
        <ul className="max-h-52 overflow-y-auto">
          {bodies.map((body) => (
            <Came key={body.id} body={body} isChosen={body.id === sample?.id} onChoose={() => setChosen(body.id)} />
          ))}
        </ul>
        {sample && (
          <textarea readOnly className="textarea mt-3 h-96 w-full font-mono text-xs" aria-label="The body" value={indented(sample.body)} />
        )}
      </section>
      <section className="panel min-w-0 p-3" aria-label="Mapping">
        <h2 className="mb-2 text-base">What is made of it</h2>
        <label className="block">
          <span className="field-label">A JSONata expression that gives one event, or a list of them</span>
          <textarea
            className="textarea h-72 w-full font-mono text-xs"
            spellCheck={false}
            maxLength={20_000}
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </label>
        {sample && <Tried id={id} mapping={text} body={sample.body} />}
        <p className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="btn btn-primary btn-sm" disabled={text === mapping} onClick={() => save.mutate()}>
            Save the mapping
          </button>
          {refused > 0 && text === mapping && (
            <button
              type="button"
              className="btn btn-sm"
              disabled={replay.isPending}
              onClick={() =>
                replay.mutate(undefined, { onSuccess: ({ taken, refused: left }) => toast.success(`${plural(taken, 'body')} taken in${left > 0 ? `, ${left} still refused` : ''}.`.replace('bodys', 'bodies')) })
              }
            >
              Map what was refused once more
            </button>
          )}
        </p>
      </section>
    </div>
  )
} // prettier-ignore

const STATES = { taken: 'taken in', refused: 'refused', unsigned: 'not signed' } as const

interface CameProps {
  body: ConnectionBody
  isChosen: boolean
  onChoose: () => void
}

function Came({ body, isChosen, onChoose }: CameProps): ReactNode {
  const { receivedAt, state, outcome } = body
  const [problem] = outcome.problems
  return (
    <li>
      <button
        type="button"
        aria-pressed={isChosen}
        className={`flex w-full items-baseline gap-3 rounded-field px-2 py-1 text-left hover:bg-base-200 ${isChosen ? 'bg-base-200' : ''}`}
        onClick={onChoose}
      >
        <Time at={receivedAt} />
        <span className={state === 'taken' ? '' : 'font-medium text-accent'}>{STATES[state]}</span>
        <span className="truncate text-xs text-secondary">
          {problem ? `${problem.path} ${problem.message}` : `${plural(outcome.events, 'event')}, ${outcome.fresh} new`}
        </span>
      </button>
    </li>
  )
} // prettier-ignore

/** What the expression makes of the body beside it, as it is typed. */
function Tried({ id, mapping, body }: { id: string; mapping: string; body: string }): ReactNode {
  const asked = useSettled(mapping, mapping)
  const { data } = useQuery({
    queryKey: ['mapping', id, asked, body],
    queryFn: () => sendJson('POST', `/api/connections/${id}/try`, tryAnswer, { mapping: asked, body }),
    placeholderData: (previous) => previous,
    retry: false,
  })
  if (!data) return <p className="mt-2 text-xs text-secondary">Trying …</p>
  return (
    <div className="mt-2" role="status">
      {data.problems.length > 0 ? (
        <ul className="list-disc pl-5 text-accent">
          {data.problems.slice(0, 8).map(({ path, message }, index) => (
            <li key={index}>
              <code className="font-mono text-xs">{path}</code> {message}
            </li>
          ))}
        </ul>
      ) : (
        <p>{data.events.length === 0 ? 'Nothing is made of it: it is passed over.' : `Makes ${plural(data.events.length, 'event')}:`}</p>
      )}
      {data.events.length > 0 && (
        <textarea readOnly className="textarea mt-1 h-56 w-full font-mono text-xs" aria-label="The events" value={JSON.stringify(data.events, null, 2)} />
      )}
    </div>
  )
} // prettier-ignore

function indented(text: string): string {
  try {
    return JSON.stringify(JSON.parse(text), null, 2)
  } catch {
    return text
  }
}
