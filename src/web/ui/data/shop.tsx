import { createContext, useContext, type ReactNode } from 'react'
import type { SessionResponse } from '../../../contract/session.ts'
import { formatMoney } from '../../../core/shared/money.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import { clockWords, dateWords } from '../../../core/words/quantities.ts'

const SessionContext = createContext<SessionResponse | null>(null)

export const SessionProvider = SessionContext.Provider

/** Who is signed in, and to which shop. Only below the signed-in shell. */
export function useSession(): SessionResponse {
  const session = useContext(SessionContext)
  if (!session) throw new Error('useSession is used outside the signed-in part')
  return session
}

/** The shop, for words, money and times. */
export function useShop(): SessionResponse['shop'] {
  return useSession().shop
}

/** A time in the shop's zone; the exact instant on hover. */
export function Time({ at, full = false }: { at: number; full?: boolean }): ReactNode {
  const { zone } = useShop()
  return (
    <time
      dateTime={formatInstant(at)}
      title={`${clockWords(at, zone)} (${zone})`}
      className="font-mono text-xs whitespace-nowrap"
    >
      {full ? clockWords(at, zone) : dateWords(at, zone)}
    </time>
  )
}

/** An amount in its currency, as the shop's locale writes it. */
export function Amount({ minor, currency }: { minor: number; currency: string }): ReactNode {
  const { locale } = useShop()
  return (
    <span className="font-mono text-xs">
      {formatMoney({ amountMinor: minor, currency }, locale)}
    </span>
  )
}
