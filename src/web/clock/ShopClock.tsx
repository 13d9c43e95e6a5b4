import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, type ReactNode } from 'react'
import { toast } from 'sonner'
import { mayBuild } from '../../contract/roles.ts'
import { clockResponse, type ClockResponse } from '../../contract/session.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { clockWords } from '../../core/words/quantities.ts'
import { getJson, sendJson } from '../ui/data/api.ts'
import { useSession, useShop } from '../ui/data/shop.tsx'

const MOVING_POLL_MS = 250
const STANDING_POLL_MS = 5000

const JUMPS = [
  { label: '+30 min', ms: 30 * MINUTE_MS },
  { label: '+1 h', ms: HOUR_MS },
  { label: '+1 d', ms: DAY_MS },
  { label: '+7 d', ms: 7 * DAY_MS },
] as const

/** The shop's time; where it is moved by hand, the buttons that move it. */
export function ShopClock(): ReactNode {
  const { zone } = useShop()
  const mayMove = mayBuild(useSession().user.role)
  const queries = useQueryClient()
  const clock = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
    refetchInterval: (query) => (query.state.data?.target ? MOVING_POLL_MS : STANDING_POLL_MS),
  })
  const move = useMutation({
    mutationFn: (body: { target: number } | { toNextDue: true }) =>
      sendJson('POST', '/api/clock', clockResponse, body),
    onSuccess: (data) => queries.setQueryData(['clock'], data),
    onError: (error) => toast.error(error.message),
  })
  useRefreshAfterMove(clock.data)
  if (!clock.data) return null
  const { now, movedByHand, target } = clock.data
  return (
    <div
      className="flex items-center gap-1 rounded-field bg-white/10 py-0.5 pr-0.5 pl-3"
      role="group"
      aria-label="Shop clock"
    >
      <output aria-label="Shop time" className="font-mono text-xs" title={zone}>
        {clockWords(now, zone)}
      </output>
      {movedByHand && target === null && mayMove && (
        <div className="ml-2 flex gap-1 max-md:hidden">
          {JUMPS.map(({ label, ms }) => (
            <ClockButton
              key={label}
              label={label}
              onClick={() => move.mutate({ target: now + ms })}
            />
          ))}
          <ClockButton label="to next send" onClick={() => move.mutate({ toNextDue: true })} />
        </div>
      )}
      {target !== null && <Moving target={target} zone={zone} mayStop={mayMove} />}
    </div>
  )
}

function ClockButton({ label, onClick }: { label: string; onClick: () => void }): ReactNode {
  return (
    <button
      type="button"
      onClick={onClick}
      className="rounded-field bg-white/10 px-2 py-1 text-xs hover:bg-white/20"
    >
      {label}
    </button>
  )
}

function Moving({
  target,
  zone,
  mayStop,
}: {
  target: number
  zone: string
  mayStop: boolean
}): ReactNode {
  const queries = useQueryClient()
  const stop = async () => {
    queries.setQueryData(['clock'], await sendJson('DELETE', '/api/clock/target', clockResponse))
  }
  return (
    <div className="ml-2 flex items-center gap-2 text-xs">
      <span className="loading loading-dots loading-xs" aria-hidden="true" />
      <span role="status">on its way to {clockWords(target, zone)}</span>
      {mayStop && <ClockButton label="Stop" onClick={() => void stop()} />}
    </div>
  )
}

/** When the clock has moved, everything on the screen may have changed. */
function useRefreshAfterMove(clock: ClockResponse | undefined): void {
  const queries = useQueryClient()
  const before = useRef<{ now: number; target: number | null } | null>(null)
  useEffect(() => {
    if (!clock) return
    const moved = before.current !== null && before.current.now !== clock.now
    const arrived = before.current?.target !== null && clock.target === null
    before.current = { now: clock.now, target: clock.target }
    if (moved || arrived) {
      void queries.invalidateQueries({
        predicate: ({ queryKey }) => !QUIET.has(String(queryKey[0])),
      })
    }
  }, [clock, queries])
}

/** What a moving clock does not change. A workflow's draft belongs to the person who edits it. */
const QUIET = new Set(['clock', 'session', 'products', 'workflow'])
