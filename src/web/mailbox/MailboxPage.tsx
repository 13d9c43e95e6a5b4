import { Mail, Smartphone } from 'lucide-react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { mailsResponse, type MailsResponse, type MailSummary } from '../../contract/activity.ts'
import { plural } from '../../core/words/quantities.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { SearchField } from '../ui/fields/SearchField.tsx'
import { Time } from '../ui/data/shop.tsx'
import { Empty, Loading, Outdated, Problem } from '../ui/states.tsx'
import { MailView } from './MailView.tsx'

/** The simulated inbox: what arrived over SMTP and on phones, as its recipients would find it. */
export function MailboxPage(): ReactNode {
  const { id } = useParams()
  const [search, setSearch] = useState('')
  const [before, setBefore] = useState<number | undefined>()
  const page = useQuery({
    queryKey: ['mails', search, before],
    queryFn: ({ signal }) =>
      getJson(`/api/mails${queryOf({ search, before })}`, mailsResponse, signal),
    placeholderData: keepPreviousData,
    refetchInterval: before === undefined ? 3000 : false,
  })
  const shown = id ?? page.data?.mails[0]?.id.toString()
  return (
    <div className="flex h-full flex-col md:flex-row">
      <section
        className="flex min-h-0 w-full shrink-0 flex-col border-r border-base-300 bg-base-100 max-md:max-h-72 md:w-96"
        aria-label="Mails"
      >
        <div className="border-b border-base-300 p-3">
          <PageHeading title="Mailbox" className="mb-2 flex items-baseline gap-2 text-xl">
            Mailbox
            {page.data && !page.isPlaceholderData && (
              <span className="font-mono text-xs font-normal text-secondary">
                {plural(page.data.total, 'message')}
              </span>
            )}
          </PageHeading>
          <SearchField
            label="Search mails"
            className="w-full"
            placeholder="Address, subject or text"
            value={search}
            onSearch={(text) => {
              setSearch(text)
              setBefore(undefined)
            }}
          />
        </div>
        {page.error && <Problem error={page.error} retry={() => void page.refetch()} />}
        {page.isPending && <Loading what="mails" />}
        {page.data && (
          <Outdated isOutdated={page.isPlaceholderData} className="flex min-h-0 flex-1 flex-col">
            <MailList
              page={page.data}
              shown={shown}
              onEarlier={setBefore}
              paging={before !== undefined}
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

interface ListProps {
  page: MailsResponse
  shown: string | undefined
  paging: boolean
  onEarlier: (before: number | undefined) => void
}

function MailList({ page, shown, paging, onEarlier }: ListProps): ReactNode {
  return (
    <>
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {page.mails.map((mail) => (
          <li key={mail.id}>
            <MailRow mail={mail} selected={String(mail.id) === shown} />
          </li>
        ))}
        {page.mails.length === 0 && (
          <li>
            <Empty title="Nothing found." />
          </li>
        )}
      </ul>
      {(page.more || paging) && (
        <div className="flex gap-2 border-t border-base-300 p-2">
          {page.more && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => onEarlier(page.mails.at(-1)?.id)}
            >
              Earlier
            </button>
          )}
          {paging && (
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() => onEarlier(undefined)}
            >
              Back to the newest
            </button>
          )}
        </div>
      )}
    </>
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
