import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { Hand, Mail, Split, Store } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import {
  timelineResponse,
  timelineShow,
  type TimelineLine,
  type TimelineShow,
} from '../../contract/people.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { Loading, Outdated, Problem } from '../ui/states.tsx'

const SHOWS: Readonly<Record<TimelineShow, string>> = {
  all: 'Everything',
  events: 'What the shop told',
  messages: 'Messages',
  decisions: 'Decisions',
  acts: 'Done by hand',
}

/** Everything that is known to have happened to somebody, newest first. */
export function Timeline({ id }: { id: string }): ReactNode {
  const [show, setShow] = useState<TimelineShow>('all')
  const {
    data,
    error,
    refetch,
    hasNextPage,
    fetchNextPage,
    isFetchingNextPage,
    isPlaceholderData,
  } = useInfiniteQuery({
    queryKey: ['timeline', id, show],
    queryFn: ({ pageParam, signal }) =>
      getJson(
        `/api/people/${encodeURIComponent(id)}/timeline${queryOf({ show, after: pageParam })}`,
        timelineResponse,
        signal,
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: ({ after }) => after ?? undefined,
    placeholderData: keepPreviousData,
    // Whoever looks back is not to lose the line they read.
    refetchInterval: ({ state }) => ((state.data?.pages.length ?? 0) > 1 ? false : 10_000),
  })
  const lines = data?.pages.flatMap((page) => page.lines)
  return (
    <section aria-label="What happened" className="min-w-0">
      <div role="group" aria-label="Show" className="mb-2 flex flex-wrap gap-1">
        {timelineShow.options.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={show === one}
            className={`btn btn-sm ${show === one ? 'btn-neutral' : ''}`}
            onClick={() => setShow(one)}
          >
            {SHOWS[one]}
          </button>
        ))}
      </div>
      <div className="panel">
        {error && <Problem error={error} retry={() => void refetch()} />}
        {!lines && !error && <Loading what="what happened" />}
        {lines && (
          <Outdated isOutdated={isPlaceholderData}>
            <ol aria-label="Time line">
              {lines.map((line) => (
                <Line key={line.key} line={line} />
              ))}
            </ol>
            {lines.length === 0 && <p className="p-4 text-secondary">Nothing of that kind.</p>}
          </Outdated>
        )}
        {hasNextPage && (
          <p className="p-3">
            <button
              type="button"
              className="btn btn-sm"
              disabled={isFetchingNextPage}
              onClick={() => void fetchNextPage()}
            >
              Earlier
            </button>
          </p>
        )}
      </div>
    </section>
  )
}

/** What did not go as somebody may expect stands out. */
const NOT_SENT = new Set(['left', 'skipped', 'failed', 'unsure', 'stuck'])

function Line({ line }: { line: TimelineLine }): ReactNode {
  const { at, kind, words, workflow, runId, mailId } = line
  return (
    <li className="flex items-start gap-3 border-t border-base-300/60 px-4 py-2 first:border-t-0">
      <Sign line={line} />
      <span className="w-28 shrink-0 pt-px">
        <Time at={at} />
      </span>
      <span className="min-w-0 flex-1">
        <span
          className={`break-words ${NOT_SENT.has(kind) ? 'font-medium' : ''} ${kind === 'turnedAway' ? 'text-secondary' : ''}`}
        >
          {words}
        </span>
        {mailId !== null && (
          <Link className="link ml-2 text-xs" to={`/mailbox/${mailId}`}>
            show the mail
          </Link>
        )}
        {workflow && (
          <Link
            className="block truncate text-xs text-secondary hover:underline"
            to={runId === null ? `/workflows/${workflow.id}` : `/runs/${runId}`}
          >
            {workflow.name}
          </Link>
        )}
      </span>
    </li>
  )
}

function Sign({ line: { what, kind } }: { line: TimelineLine }): ReactNode {
  const isMessage = kind === 'sent' || kind.startsWith('message.')
  const Icon = what === 'act' ? Hand : isMessage ? Mail : what === 'event' ? Store : Split
  return <Icon size={15} className={`mt-0.5 shrink-0 ${NOT_SENT.has(kind) ? 'text-accent' : 'text-secondary'}`} aria-hidden="true" />
} // prettier-ignore
