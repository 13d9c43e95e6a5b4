import { useQuery } from '@tanstack/react-query'
import { Fragment, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { mailResponse, type MailResponse } from '../../contract/activity.ts'
import { getJson } from '../ui/data/api.ts'
import { PhoneView } from '../ui/mail/PhoneView.tsx'
import { Time } from '../ui/data/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'

const PARTS = { html: 'As HTML', text: 'As plain text', headers: 'Headers' } as const
type Part = keyof typeof PARTS

/** One mail: who, what, and each of its parts as it came over the wire. */
export function MailView({ id }: { id: string }): ReactNode {
  const mail = useQuery({
    queryKey: ['mail', id],
    queryFn: () => getJson(`/api/mails/${id}`, mailResponse),
  })
  const [chosen, setChosen] = useState<Part>('html')
  if (mail.error) return <Problem error={mail.error} />
  if (!mail.data) return <Loading what="the mail" />
  if (mail.data.kind === 'text') return <OnPhone message={mail.data} />
  const { subject, from, date, runId, html } = mail.data
  const part = chosen === 'html' && html === null ? 'text' : chosen
  const parts = (Object.keys(PARTS) as Part[]).filter((one) => one !== 'html' || html !== null)
  return (
    <article className="flex h-full flex-col p-5">
      <h2 className="text-lg">{subject}</h2>
      <dl className="mt-1 mb-3 grid grid-cols-[auto_1fr] gap-x-3 [&_dt]:text-secondary">
        <dt>From</dt>
        <dd>{from}</dd>
        <Head mail={mail.data} />
        <dt>Date</dt>
        <dd>
          <Time at={date} full />
        </dd>
        <Attached mail={mail.data} />
      </dl>
      <div className="mb-3 flex flex-wrap items-center gap-1">
        <div role="group" aria-label="Part" className="flex gap-1">
          {parts.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={part === one}
              className={`btn btn-xs ${part === one ? 'btn-neutral' : ''}`}
              onClick={() => setChosen(one)}
            >
              {PARTS[one]}
            </button>
          ))}
        </div>
        <a className="btn btn-ghost btn-xs ml-auto" href={`/api/mails/${id}/source`}>
          Save as .eml
        </a>
        <WhySent runId={runId} />
      </div>
      <PartView part={part} mail={mail.data} />
    </article>
  )
}

/** What its recipients read of each other, and who got it unseen. */
function Head({
  mail: { headers, to, cc, replyTo, deliveredTo },
}: {
  mail: MailResponse
}): ReactNode {
  const named = headers.find(({ name }) => name.toLowerCase() === 'to')?.value ?? to
  const lines = [
    ['To', named],
    ['Copies', cc],
    ['Answers to', replyTo],
  ] as const
  const seen = `${named} ${cc ?? ''}`.toLowerCase()
  const unseen = deliveredTo.filter((one) => !seen.includes(one.toLowerCase()))
  return (
    <>
      {lines.map(([label, value]) =>
        value === null ? null : (
          <Fragment key={label}>
            <dt>{label}</dt>
            <dd>{value}</dd>
          </Fragment>
        ),
      )}
      {unseen.length > 0 && (
        <>
          <dt>Blind copies</dt>
          <dd>{unseen.join(', ')}</dd>
        </>
      )}
    </>
  )
}

function Attached({ mail: { attachments } }: { mail: MailResponse }): ReactNode {
  if (attachments.length === 0) return null
  return (
    <>
      <dt>Files</dt>
      <dd>
        {attachments
          .map(({ name, type, bytes }) => `${name} (${type}, ${Math.ceil(bytes / 1024)} kB)`)
          .join(', ')}
      </dd>
    </>
  )
}

/** A text message as it came to a phone. */
function OnPhone({ message: { to, date, text, runId } }: { message: MailResponse }): ReactNode {
  return (
    <article className="p-5">
      <h2 className="text-lg">Text message to {to}</h2>
      <p className="mt-1 flex items-center gap-3">
        <Time at={date} full />
        <WhySent runId={runId} />
      </p>
      <PhoneView text={text} />
    </article>
  )
}

function WhySent({ runId }: { runId: number | null }): ReactNode {
  if (runId === null) return null
  return (
    <Link className="btn btn-ghost btn-xs" to={`/runs/${runId}`}>
      Why was this sent?
    </Link>
  )
}

function PartView({ part, mail }: { part: Part; mail: MailResponse }): ReactNode {
  if (part === 'html') {
    // Sandboxed: no scripts, no forms, no way to this page.
    return (
      <iframe
        title="The mail as HTML"
        sandbox=""
        srcDoc={mail.html ?? ''}
        className="panel min-h-96 w-full flex-1 bg-white"
      />
    )
  }
  if (part === 'text') {
    return (
      <pre className="panel flex-1 p-5 font-sans wrap-anywhere whitespace-pre-wrap">
        {mail.text}
      </pre>
    )
  }
  return (
    <dl className="panel flex-1 p-4 font-mono text-xs">
      {mail.headers.map(({ name, value }) => (
        <div key={`${name} ${value}`} className="flex gap-3 py-0.5">
          <dt className="w-48 shrink-0 text-secondary">{name}</dt>
          <dd className="break-all">{value}</dd>
        </div>
      ))}
    </dl>
  )
}
