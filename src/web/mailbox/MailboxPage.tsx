import { Mail, Smartphone } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { mailsResponse, type MailSummary } from '../../contract/activity.ts'
import { plural } from '../../core/words/quantities.ts'
import { usePages } from '../ui/data/usePages.ts'
import { EarlierButtons } from '../ui/EarlierButtons.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { SearchField } from '../ui/fields/SearchField.tsx'
import { Time } from '../ui/data/shop.tsx'
import { Empty, Loading, Outdated, Problem } from '../ui/states.tsx'
import { MailView } from './MailView.tsx'

/** The simulated inbox: what arrived over SMTP and on phones, as its recipients would find it. */
export function MailboxPage(): ReactNode {
  const { id } = useParams()
  const [search, setSearch] = useState('')
  const found = usePages({
    key: 'mails',
    path: '/api/mails',
    filter: { search },
    schema: mailsResponse,
    nextOf: ({ mails, more }) => (more ? mails.at(-1)?.id : undefined),
    refreshMs: 3000,
  })
  const mails = found.pages?.flatMap((page) => page.mails)
  const shown = id ?? mails?.[0]?.id.toString()
  return (
    <div className="flex h-full flex-col md:flex-row">
      <section
        className="flex min-h-0 w-full shrink-0 flex-col border-r border-base-300 bg-base-100 max-md:max-h-72 md:w-96"
        aria-label="Mails"
      >
        <div className="border-b border-base-300 p-3">
          <PageHeading title="Mailbox" className="mb-2 flex items-baseline gap-2 text-xl">
            Mailbox
            {found.pages?.[0] && !found.isOutdated && (
              <span className="font-mono text-xs font-normal text-secondary">
                {plural(found.pages[0].total, 'message')}
              </span>
            )}
          </PageHeading>
          <SearchField
            label="Search mails"
            className="w-full"
            placeholder="Address, subject or text"
            value={search}
            onSearch={setSearch}
          />
        </div>
        {found.error && <Problem error={found.error} retry={found.refetch} />}
        {found.isPending && <Loading what="mails" />}
        {mails && (
          <Outdated isOutdated={found.isOutdated} className="flex min-h-0 flex-1 flex-col">
            <MailList mails={mails} shown={shown} />
            <EarlierButtons
              earlier={found.earlier}
              toNewest={found.toNewest}
              isFetching={found.isFetchingEarlier}
              size="btn-xs"
              className="border-t border-base-300 p-2"
            />
          </Outdated>
        )}
      </section>
      <section className="min-h-0 min-w-0 flex-1 overflow-auto" aria-label="The mail">
        {shown === undefined ? (
          <Empty title="No mail yet.">Place an order at the counter, or move the clock.</Empty>
        ) : (
          <MailView key={shown} id={shown} />
        )}
      </section>
    </div>
  )
}

function MailList({
  mails,
  shown,
}: {
  mails: MailSummary[]
  shown: string | undefined
}): ReactNode {
  return (
    <ul className="min-h-0 flex-1 overflow-y-auto">
      {mails.map((mail) => (
        <li key={mail.id}>
          <MailRow mail={mail} selected={String(mail.id) === shown} />
        </li>
      ))}
      {mails.length === 0 && (
        <li>
          <Empty title="Nothing found." />
        </li>
      )}
    </ul>
  )
}

function MailRow({ mail, selected }: { mail: MailSummary; selected: boolean }): ReactNode {
  return (
    <Link
      to={`/mailbox/${mail.id}`}
      aria-current={selected}
      className={`block border-b border-base-300/60 px-3 py-2 hover:bg-base-200 ${selected ? 'bg-base-200 shadow-[inset_3px_0_0_var(--color-primary)]' : ''}`}
    >
      <span className="flex items-center gap-1.5">
        {mail.kind === 'text' ? (
          <Smartphone size={13} className="shrink-0 text-secondary" aria-label="Text message to" />
        ) : (
          <Mail size={13} className="shrink-0 text-secondary" aria-label="Mail to" />
        )}
        <span className="min-w-0 flex-1 truncate text-xs text-secondary">{mail.to}</span>
        <Time at={mail.date} />
      </span>
      {mail.kind === 'mail' && <span className="block truncate font-medium">{mail.subject}</span>}
      <span
        className={mail.kind === 'text' ? 'line-clamp-2' : 'block truncate text-xs text-secondary'}
      >
        {mail.snippet}
      </span>
    </Link>
  )
}
