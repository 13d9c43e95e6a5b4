import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { sentEventAnswer, testEventAnswer } from '../../contract/arrivals.ts'
import { clockResponse } from '../../contract/session.ts'
import { codeSamples } from '../../core/connections/samples.ts'
import { sampleEvent } from '../../core/connections/sampleEvent.ts'
import { EVENT_TYPES, type EventType } from '../../core/events/eventTypes.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import { EVENT_WORDS } from '../../core/words/eventWords.ts'
import { capitalized } from '../../core/words/quantities.ts'
import { getJson, sendJson } from '../ui/data/api.ts'
import { useShop } from '../ui/data/shop.tsx'
import { ProblemList } from '../ui/states.tsx'
import { useSettled } from '../ui/hooks/useSettled.ts'

const STATUS = {
  accepted: 'It was taken in.',
  duplicate: 'It was known already: nothing changed.',
  erased: 'It is about somebody who was erased: nothing was kept.',
} as const

/** An event to try and to send by hand, and programs that send it. */
export function SendEvent(): ReactNode {
  const [type, setType] = useState<EventType>('order.placed')
  const { data: clock } = useQuery({ queryKey: ['clock'], queryFn: () => getJson('/api/clock', clockResponse) })
  return (
    <details className="panel mb-3 p-3">
      <summary className="min-h-6 cursor-pointer font-medium">Send one, by hand or by a program</summary>
      <label className="mt-3 flex items-center gap-2">
        Begin with
        <select className="select select-sm w-60" value={type} onChange={(event) => setType(event.target.value as EventType)}>
          {EVENT_TYPES.map((one) => (
            <option key={one} value={one}>
              {capitalized(EVENT_WORDS[one].label)}
            </option>
          ))}
        </select>
      </label>
      {clock && <Written key={type} type={type} now={clock.now} />}
    </details>
  )
} // prettier-ignore

function Written({ type, now }: { type: EventType; now: Instant }): ReactNode {
  const { currency } = useShop()
  const queries = useQueryClient()
  const [first] = useState(() => sampleEvent(type, { currency, id: `test-${now}`, time: formatInstant(now) })) // prettier-ignore
  const [text, setText] = useState(() => JSON.stringify(first, null, 2))
  const event = parsed(text)
  const asked = useSettled(text, text)
  const tried = useQuery({
    queryKey: ['tried event', asked],
    queryFn: () => sendJson('POST', '/api/events/try', testEventAnswer, { event: parsed(asked) }),
    enabled: parsed(asked) !== undefined,
    placeholderData: (before) => before,
  })
  const send = useMutation({
    mutationFn: () => sendJson('POST', '/api/events', sentEventAnswer, { event }),
    onSuccess: async ({ status }) => {
      toast.success(STATUS[status])
      await queries.invalidateQueries({ queryKey: ['arrivals'] })
    },
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  return (
    <div className="mt-3 grid grid-cols-2 gap-4 max-lg:grid-cols-1">
      <div className="min-w-0">
        <textarea className="textarea h-80 w-full font-mono text-xs" aria-label="The event" spellCheck={false} value={text} onChange={({ target }) => setText(target.value)} />
        <div role="status" className="mt-1 min-h-6">
          {event === undefined ? 'This is not JSON.' : tried.data && <Outcome {...tried.data} />}
        </div>
        <button type="button" className="btn btn-sm mt-2" disabled={event === undefined || send.isPending} onClick={() => send.mutate()}>
          Send it
        </button>
        <p className="mt-1 text-xs text-secondary">It is taken in like any other: whatever is live begins by it.</p>
      </div>
      <Programs event={event ?? first} />
    </div>
  )
} // prettier-ignore

function Outcome({ problems, ignored }: { problems: { path: string; message: string }[]; ignored: string[] }): ReactNode {
  if (problems.length > 0) {
    return (
      <ul className="list-disc pl-5 text-accent">
        {problems.slice(0, 8).map(({ path, message }) => (
          <li key={`${path} ${message}`}>
            <code className="font-mono text-xs">{path}</code> {message}
          </li>
        ))}
      </ul>
    )
  }
  return ignored.length === 0 ? 'It would be taken in.' : `It would be taken in without what has no meaning here: ${ignored.join(', ')}.`
} // prettier-ignore

function Programs({ event }: { event: object }): ReactNode {
  const samples = codeSamples(`${location.origin}/v1/events`, event)
  const [language, setLanguage] = useState(samples[0]?.language)
  return (
    <div className="min-w-0">
      <div role="group" aria-label="Language" className="mb-2 flex gap-1">
        {samples.map((one) => (
          <button key={one.language} type="button" aria-pressed={language === one.language} className={`btn btn-sm ${language === one.language ? 'btn-neutral' : ''}`} onClick={() => setLanguage(one.language)}>
            {one.language}
          </button>
        ))}
      </div>
      <textarea readOnly className="textarea h-80 w-full font-mono text-xs" aria-label="A program" value={samples.find((one) => one.language === language)?.code} />
      <p className="mt-1 text-xs text-secondary">The key stands in YOMBLE_KEY; keys are made under Settings.</p>
    </div>
  )
} // prettier-ignore

/** What a text holds as JSON, where it holds an object; undefined otherwise. */
function parsed(text: string): object | undefined {
  try {
    const value: unknown = JSON.parse(text)
    return typeof value === 'object' && value !== null ? value : undefined
  } catch {
    return undefined
  }
}
