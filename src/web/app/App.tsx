import { QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { Toaster } from 'sonner'
import { BeginningPage } from '../account/BeginningPage.tsx'
import { PasswordPage } from '../account/PasswordPage.tsx'
import { SignIn } from '../account/SignIn.tsx'
import { ApiError } from '../ui/data/api.ts'
import { BrokenPage } from './BrokenPage.tsx'
import { NotFound } from './NotFound.tsx'
import { Shell } from './Shell.tsx'

const queries: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error, query) => {
      // A session that has ended shows in whatever was asked next; the shell then leads to the sign-in.
      const ended = error instanceof ApiError && error.status === 401
      if (ended && query.queryKey[0] !== 'session')
        void queries.resetQueries({ queryKey: ['session'] })
    },
  }),
  defaultOptions: {
    // Whether there is a network the browser only guesses; the server itself says whether it answers.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      // The server saying no is an answer; not answering is worth another try.
      retry: (count, error) => !(error instanceof ApiError) && count < 20,
      retryDelay: 1500,
    },
  },
})

const router = createBrowserRouter([
  { path: '/sign-in', element: <SignIn /> },
  { path: '/begin', element: <BeginningPage /> },
  { path: '/begin/:token', element: <BeginningPage /> },
  { path: '/password', element: <PasswordPage /> },
  { path: '/password/:token', element: <PasswordPage /> },
  {
    element: <Shell />,
    children: [
      {
        errorElement: <BrokenPage />,
        children: [
          { path: '/', element: <Navigate to="/today" replace /> },
          {
            path: '/first-steps',
            lazy: async () => ({
              Component: (await import('../today/FirstStepsPage.tsx')).FirstStepsPage,
            }),
          },
          {
            path: '/today',
            lazy: async () => ({
              Component: (await import('../today/TodayPage.tsx')).TodayPage,
            }),
          },
          {
            path: '/workflows',
            lazy: async () => ({
              Component: (await import('../workflows/list/ListPage.tsx')).ListPage,
            }),
          },
          {
            path: '/recipes',
            lazy: async () => ({
              Component: (await import('../workflows/recipes/RecipesPage.tsx')).RecipesPage,
            }),
          },
          {
            path: '/workflows/:id',
            lazy: async () => ({
              Component: (await import('../workflows/page/WorkflowPage.tsx')).WorkflowPage,
            }),
            // The page stays, with all that can be undone, while one of its messages is written.
            children: [{ path: 'messages/:step', element: null }],
          },
          {
            path: '/workflows/:id/results',
            lazy: async () => ({
              Component: (await import('../workflows/results/ResultsPage.tsx')).ResultsPage,
            }),
          },
          {
            path: '/workflows/:id/rehearsal',
            lazy: async () => ({
              Component: (await import('../workflows/rehearsal/RehearsalPage.tsx')).RehearsalPage,
            }),
          },
          {
            path: '/workflows/:id/going-live',
            lazy: async () => ({
              Component: (await import('../workflows/goingLive/GoingLivePage.tsx')).GoingLivePage,
            }),
          },
          {
            path: '/workflows/:id/results/:step',
            lazy: async () => ({
              Component: (await import('../workflows/results/message/MessagePage.tsx')).MessagePage,
            }),
          },
          {
            path: '/people',
            lazy: async () => ({
              Component: (await import('../people/PeoplePage.tsx')).PeoplePage,
            }),
          },
          {
            path: '/people/files',
            lazy: async () => ({
              Component: (await import('../imports/ImportsPage.tsx')).ImportsPage,
            }),
          },
          {
            path: '/people/files/:id',
            lazy: async () => ({
              Component: (await import('../imports/ImportPage.tsx')).ImportPage,
            }),
          },
          {
            path: '/people/:id',
            lazy: async () => ({
              Component: (await import('../people/PersonPage.tsx')).PersonPage,
            }),
          },
          {
            path: '/ledger',
            lazy: async () => ({
              Component: (await import('../ledger/LedgerPage.tsx')).LedgerPage,
            }),
          },
          {
            path: '/runs/:id',
            lazy: async () => ({ Component: (await import('../ledger/RunPage.tsx')).RunPage }),
          },
          {
            path: '/mailbox',
            lazy: async () => ({
              Component: (await import('../mailbox/MailboxPage.tsx')).MailboxPage,
            }),
          },
          {
            path: '/mailbox/:id',
            lazy: async () => ({
              Component: (await import('../mailbox/MailboxPage.tsx')).MailboxPage,
            }),
          },
          {
            path: '/counter',
            lazy: async () => ({
              Component: (await import('../counter/CounterPage.tsx')).CounterPage,
            }),
          },
          {
            path: '/coupons',
            lazy: async () => ({
              Component: (await import('../coupons/CouponsPage.tsx')).CouponsPage,
            }),
          },
          {
            path: '/reorders',
            lazy: async () => ({
              Component: (await import('../reorders/ReordersPage.tsx')).ReordersPage,
            }),
          },
          {
            path: '/settings',
            lazy: async () => ({
              Component: (await import('../settings/SettingsPage.tsx')).SettingsPage,
            }),
          },
          {
            path: '/settings/brand',
            lazy: async () => ({
              Component: (await import('../settings/brand/BrandPage.tsx')).BrandPage,
            }),
          },
          {
            path: '/settings/connections',
            lazy: async () => ({
              Component: (await import('../connections/ConnectionsPage.tsx')).ConnectionsPage,
            }),
          },
          {
            path: '/settings/events',
            lazy: async () => ({
              Component: (await import('../connections/EventsPage.tsx')).EventsPage,
            }),
          },
          {
            path: '/settings/connections/:id',
            lazy: async () => ({
              Component: (await import('../connections/ConnectionPage.tsx')).ConnectionPage,
            }),
          },
          {
            path: '/settings/status',
            lazy: async () => ({
              Component: (await import('../settings/StatusPage.tsx')).StatusPage,
            }),
          },
          {
            path: '/settings/changes',
            lazy: async () => ({
              Component: (await import('../settings/audit/AuditPage.tsx')).AuditPage,
            }),
          },
          {
            path: '/settings/files',
            lazy: async () => ({
              Component: (await import('../settings/files/FilesPage.tsx')).FilesPage,
            }),
          },
          {
            path: '/account',
            lazy: async () => ({
              Component: (await import('../account/AccountPage.tsx')).AccountPage,
            }),
          },
          { path: '*', element: <NotFound /> },
        ],
      },
    ],
  },
])

/** The whole application: data, routes, notices. */
export function App(): ReactNode {
  return (
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
      <Toaster position="top-center" offset={{ top: 56 }} />
    </QueryClientProvider>
  )
}
