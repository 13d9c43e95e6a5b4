import { useMutation, useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { previewResponse, type Preview } from '../../../contract/messages.ts'
import { seriesResponse } from '../../../contract/rehearsal.ts'
import { MOST_IN_A_SERIES, type Rehearsed } from '../../../core/rehearsal/rehearse.ts'
import { messagesOf } from '../../../core/rehearsal/story.ts'
import { plural } from '../../../core/words/quantities.ts'
import { stepName } from '../../../core/words/steps.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { sendJson } from '../../ui/data/api.ts'
import { useSettled } from '../../ui/hooks/useSettled.ts'
import { MailFrame } from '../../ui/mail/MailFrame.tsx'
import { PhoneView } from '../../ui/mail/PhoneView.tsx'
import { Problem, ProblemList } from '../../ui/states.tsx'
import { shortMoment } from './lit.ts'

interface Props {
  definition: Definition
  subject: Subject
  told: Rehearsed
  /** The stop that is looked at on the timetable. */
  step: string | null
  onStep: (step: string) => void
}

/** Each message as they would get it at its moment, and all of them to oneself. */
export function TheirMessages({ definition, subject, told, step, onStep }: Props): ReactNode {
  const messages = messagesOf(told)
  const [chosen, setChosen] = useState(0)
  const atStep = messages.findIndex((one) => one.step === step)
  const isHere = messages[chosen]?.step === step || atStep === -1
  const place = Math.min(isHere ? chosen : atStep, messages.length - 1)
  const series = useMutation({
    mutationFn: () => sendJson('POST', '/api/rehearsal/series', seriesResponse, { definition, subject }), // prettier-ignore
    onSuccess: ({ sent, to }) => toast.success(`${plural(sent, 'message')} sent to ${to}.`),
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  if (messages.length === 0) return null
  const choose = (index: number) => {
    setChosen(index)
    const one = messages[index]
    if (one) onStep(one.step)
  }
  return (
    <section className="panel flex flex-col gap-3 p-4" aria-label="What they get">
      <div className="flex items-center gap-3">
        <h2 className="grow text-base">What they get</h2>
        <button
          type="button"
          className="btn btn-sm"
          disabled={series.isPending}
          onClick={() => series.mutate()}
        >
          {sendWords(messages.length)}
        </button>
      </div>
      <div className="grid gap-3 md:grid-cols-[15rem_1fr]">
        <ol className="flex max-h-[60vh] flex-col gap-1 overflow-y-auto">
          {messages.map(({ at, step: key }, index) => (
            <li key={index}>
              <button
                type="button"
                className={`w-full rounded px-2 py-1 text-left text-xs hover:bg-base-200 ${index === place ? 'bg-base-200' : ''}`}
                aria-pressed={index === place}
                onClick={() => choose(index)}
              >
                <span className="block font-medium">{stepName(definition, key)}</span>
                <span className="font-mono text-secondary">{shortMoment(at, told.zone)}</span>
              </button>
            </li>
          ))}
        </ol>
        <Shown definition={definition} subject={subject} place={place} kind={kindOf(definition, messages[place]?.step)} />
      </div>
    </section>
  )
} // prettier-ignore

function sendWords(count: number): string {
  if (count === 1) return 'Send it to me'
  return count > MOST_IN_A_SERIES
    ? `Send the first ${MOST_IN_A_SERIES} to me`
    : `Send all ${count} to me`
}

const kindOf = ({ steps }: Definition, step: string | undefined): string | undefined =>
  allSteps(steps).find(({ key }) => key === step)?.kind

interface ShownProps {
  definition: Definition
  subject: Subject
  place: number
  kind: string | undefined
}

function Shown({ definition, subject, place, kind }: ShownProps): ReactNode {
  const body = JSON.stringify({ definition, subject, place })
  const asked = useSettled(body, body)
  const { data, error } = useQuery({
    queryKey: ['rehearsed message', asked],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/rehearsal/message', previewResponse, JSON.parse(asked) as object, signal), // prettier-ignore
    placeholderData: (before) => before,
    gcTime: 30_000,
    retry: false,
  })
  if (error) return <Problem error={error} />
  if (!data) return <p className="text-secondary">One moment …</p>
  if (data.problem !== null) return <p role="alert">{data.problem}</p>
  return kind === 'sms' ? <PhoneView text={data.text} /> : <AsMail preview={data} />
}

function AsMail({ preview: { to, subject, html, text } }: { preview: Preview }): ReactNode {
  return (
    <div className="flex h-[60vh] min-w-0 flex-col rounded border border-base-300">
      <div className="border-b border-base-300 px-3 py-2">
        <p className="font-medium">{subject}</p>
        <p className="text-xs text-secondary">to {to}</p>
      </div>
      {html === null ? (
        <pre className="min-h-0 flex-1 overflow-auto p-3 font-sans text-sm whitespace-pre-wrap">
          {text}
        </pre>
      ) : (
        <MailFrame html={html} dark={false} images className="w-full" />
      )}
    </div>
  )
}
