import { useQuery } from '@tanstack/react-query'
import { CircleAlert, CircleCheck, CircleHelp, CircleX, Copy, RotateCw } from 'lucide-react'
import type { ComponentType, ReactNode } from 'react'
import { toast } from 'sonner'
import {
  standingsResponse,
  type DomainResponse,
  type StandingResponse,
} from '../../../contract/standing.ts'
import type { DnsRecord, StandingKind, StandingState } from '../../../core/standing/standing.ts'
import { getJson } from '../../ui/data/api.ts'
import { Loading, Problem } from '../../ui/states.tsx'

/** What receivers find when they look up the domains that messages come from, and what to enter there. */
export function SenderStanding(): ReactNode {
  const { data, error, isPending, isFetching, refetch } = useQuery({
    queryKey: ['addresses', 'standing'],
    queryFn: () => getJson('/api/senders/standing', standingsResponse),
    staleTime: 60_000,
  })
  return (
    <section id="standing" className="panel mb-4 p-4" aria-label="What receivers find">
      <div className="flex items-start gap-3">
        <h2 className="flex-1 text-base">What receivers find</h2>
        <button
          type="button"
          className="btn btn-sm"
          disabled={isFetching}
          onClick={() => void refetch()}
        >
          <RotateCw size={14} aria-hidden="true" /> Look again
        </button>
      </div>
      <p className="mb-3 text-secondary">
        Before a mail is believed to be yours, its receiver looks up your domain. What is missing there is entered where the domain is
        run; until others see it, an hour or a day may pass.
      </p>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {isPending && <Loading what="what receivers find" />}
      {data?.domains.map((domain) => (
        <Domain key={domain.domain} of={domain} />
      ))}
    </section>
  )
} // prettier-ignore

function Domain({ of: { domain, senders, standings } }: { of: DomainResponse }): ReactNode {
  return (
    <article className="mb-3 last:mb-0" aria-label={domain}>
      <h3 className="border-b border-base-300 pb-1 font-medium break-all">
        {domain}{' '}
        <span className="font-normal text-secondary">
          {senders.length === 1 ? senders[0] : `${senders.length} senders`}
        </span>
      </h3>
      <ul>
        {standings.map((standing) => (
          <Row key={standing.kind} of={standing} />
        ))}
      </ul>
    </article>
  )
}

const NAMES: Record<StandingKind, { name: string; short: string }> = {
  spf: { name: 'Who may send', short: 'SPF' },
  dkim: { name: 'Signature', short: 'DKIM' },
  dmarc: { name: 'What becomes of fakes', short: 'DMARC' },
  returnPath: { name: 'What comes back', short: 'MX' },
}

type Sign = { Icon: ComponentType<{ size: number; className: string; 'aria-hidden': 'true' }>; colour: string; word: string } // prettier-ignore
const SIGNS: Record<StandingState, Sign> = {
  good: { Icon: CircleCheck, colour: 'text-primary', word: 'in order' },
  weak: { Icon: CircleAlert, colour: 'text-accent', word: 'could be better' },
  missing: { Icon: CircleX, colour: 'text-error', word: 'missing' },
  wrong: { Icon: CircleX, colour: 'text-error', word: 'wrong' },
  unknown: { Icon: CircleHelp, colour: 'text-secondary', word: 'cannot be told' },
}

function Row({ of: { kind, state, says, found, record } }: { of: StandingResponse }): ReactNode {
  const { name, short } = NAMES[kind]
  const { Icon, colour, word } = SIGNS[state]
  return (
    <li className="flex gap-2 border-b border-base-300 py-2 last:border-0">
      <Icon size={16} className={`mt-0.5 shrink-0 ${colour}`} aria-hidden="true" />
      <div className="min-w-0 flex-1">
        <p>
          <span className="font-medium">{name}</span>{' '}
          <span className="text-secondary">
            ({short}): {word}
          </span>
        </p>
        <p>{says}</p>
        {found.length > 0 && (
          <ul aria-label={`${short}: found`}>
            {found.map((text) => (
              <li key={text} className="font-mono text-xs break-all text-secondary">
                {text}
              </li>
            ))}
          </ul>
        )}
        {record && <ToEnter record={record} />}
      </div>
    </li>
  )
}

/** A record as it is entered: its name and its value, each to be copied. */
function ToEnter({ record: { name, type, value } }: { record: DnsRecord }): ReactNode {
  return (
    <dl className="mt-1 grid grid-cols-[auto_1fr] items-start gap-x-3 rounded bg-base-200 p-2">
      <dt className="text-secondary">Enter a {type} record at</dt>
      <Copied what="the name" text={name} />
      <dt className="text-secondary">with the value</dt>
      <Copied what="the value" text={value} />
    </dl>
  )
}

function Copied({ what, text }: { what: string; text: string }): ReactNode {
  return (
    <dd className="flex items-start gap-1 font-mono text-xs">
      <span className="min-w-0 flex-1 pt-1 break-all">{text}</span>
      <button
        type="button"
        className="btn btn-square btn-ghost btn-xs"
        aria-label={`Copy ${what}`}
        onClick={() => void navigator.clipboard.writeText(text).then(() => toast.success('Copied.'))}
      >
        <Copy size={13} aria-hidden="true" />
      </button>
    </dd>
  )
} // prettier-ignore
