import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { LogOut, Moon, Sun, UserRound } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Navigate, NavLink, Outlet, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { sessionResponse, type SessionResponse } from '../../contract/session.ts'
import { ShopClock } from '../clock/ShopClock.tsx'
import { ApiError, getJson, send, showsShop } from '../ui/data/api.ts'
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
    queryFn: readSession,
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
        <Bar session={session.data} />
        <main className="relative min-h-0 flex-1 overflow-auto print:overflow-visible">
          <Outlet />
        </main>
      </div>
    </SessionProvider>
  )
}

/** From here on the page is of the shop that it was opened with. */
async function readSession(): Promise<SessionResponse> {
  showsShop(null)
  const session = await getJson('/api/session', sessionResponse)
  showsShop(session.shop.id)
  return session
}

function Bar({ session }: { session: SessionResponse }): ReactNode {
  const userName = session.user.name
  return (
    <header className="print:hidden flex flex-wrap items-center gap-x-3 gap-y-1 bg-neutral px-4 py-1.5 text-neutral-content">
      <NavLink to="/workflows" className="font-display text-lg font-bold tracking-tight">
        yomble
      </NavLink>
      {session.shops.length > 1 && <ShopChoice session={session} />}
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

/** For who works in several shops: which one this is, and the way to another. */
function ShopChoice({ session: { shop, shops } }: { session: SessionResponse }): ReactNode {
  const go = useMutation({
    mutationFn: (shopId: string) => send('PUT', '/api/session/shop', { shopId }),
    // Nothing of the shop that is left stays in the page.
    onSuccess: () => location.assign('/workflows'),
    onError: (error) => toast.error(error.message),
  })
  return (
    <select
      className="select select-sm max-w-44 border-white/30 bg-neutral text-neutral-content"
      aria-label="Shop"
      value={shop.id}
      disabled={go.isPending}
      onChange={(event) => go.mutate(event.target.value)}
    >
      {shops.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
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
    showsShop(null)
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
