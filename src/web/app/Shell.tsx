import { useQuery, useQueryClient } from '@tanstack/react-query'
import { LogOut, Moon, Sun, UserRound } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Navigate, NavLink, Outlet, useNavigate } from 'react-router'
import { sessionResponse } from '../../contract/session.ts'
import { ShopClock } from '../clock/ShopClock.tsx'
import { ApiError, getJson, send } from '../ui/data/api.ts'
import { SessionProvider } from '../ui/data/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { applyTheme, currentTheme } from '../ui/theme.ts'
import { useFocusWhileBusy } from '../ui/hooks/useFocusWhileBusy.ts'

const PLACES = [
  { to: '/today', label: 'Today' },
  { to: '/workflows', label: 'Workflows' },
  { to: '/people', label: 'People' },
  { to: '/ledger', label: 'Ledger' },
  { to: '/mailbox', label: 'Mailbox' },
  { to: '/coupons', label: 'Coupons' },
  { to: '/reorders', label: 'Reorders' },
  { to: '/counter', label: 'Counter' },
  { to: '/settings', label: 'Settings' },
] as const

/** The frame of every signed-in screen: bar, clock, and the screen itself. */
export function Shell(): ReactNode {
  useFocusWhileBusy()
  const session = useQuery({
    queryKey: ['session'],
    queryFn: () => getJson('/api/session', sessionResponse),
    staleTime: Infinity,
  })
  if (session.error instanceof ApiError && session.error.status === 401) {
    return <Navigate to="/sign-in" replace />
  }
  if (session.error) return <Problem error={session.error} />
  if (!session.data) return <Loading what="Yomble" />
  return (
    <SessionProvider value={session.data}>
      <div className="flex h-full flex-col print:block">
        <Bar userName={session.data.user.name} />
        <main className="relative min-h-0 flex-1 overflow-auto print:overflow-visible">
          <Outlet />
        </main>
      </div>
    </SessionProvider>
  )
}

function Bar({ userName }: { userName: string }): ReactNode {
  return (
    <header className="print:hidden flex flex-wrap items-center gap-x-3 gap-y-1 bg-neutral px-4 py-1.5 text-neutral-content">
      <NavLink to="/workflows" className="font-display text-lg font-bold tracking-tight">
        yomble
      </NavLink>
      <nav aria-label="Main" className="flex flex-wrap">
        {PLACES.map(({ to, label }) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              `rounded-field px-1.5 py-1.5 text-sm ${isActive ? 'bg-white/15' : 'hover:bg-white/10'}`
            }
          >
            {label}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-1">
        <ShopClock />
        <ThemeSwitch />
        <NavLink
          to="/account"
          className="grid h-8 w-7 place-items-center rounded-field hover:bg-white/10"
          aria-label={`Account of ${userName}`}
          title={`Account of ${userName}`}
        >
          <UserRound size={16} aria-hidden="true" />
        </NavLink>
        <SignOut userName={userName} />
      </div>
    </header>
  )
}

function ThemeSwitch(): ReactNode {
  const [theme, setTheme] = useState(currentTheme)
  const other = theme === 'paper' ? 'night' : 'paper'
  const label = other === 'night' ? 'Dark theme' : 'Light theme'
  return (
    <button
      type="button"
      className="grid h-8 w-7 place-items-center rounded-field hover:bg-white/10"
      aria-label={label}
      title={label}
      onClick={() => {
        applyTheme(other)
        setTheme(other)
      }}
    >
      {other === 'night' ? <Moon size={16} /> : <Sun size={16} />}
    </button>
  )
}

function SignOut({ userName }: { userName: string }): ReactNode {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const signOut = async () => {
    await send('DELETE', '/api/session')
    queries.clear()
    await navigate('/sign-in')
  }
  return (
    <button
      type="button"
      className="grid h-8 w-7 place-items-center rounded-field hover:bg-white/10"
      aria-label={`Sign out ${userName}`}
      title={`Sign out ${userName}`}
      onClick={() => void signOut()}
    >
      <LogOut size={16} />
    </button>
  )
}
