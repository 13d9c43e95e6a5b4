import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { z } from 'zod'
import {
  counterSubscription,
  type CounterSubscription,
  type SubscriptionAction,
} from '../../contract/counter.ts'
import { SUBSCRIPTION_STATUSES, type SubscriptionStatus } from '../../core/events/entities.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { useAtCounter } from './useAtCounter.ts'

const LABELS: Readonly<Record<SubscriptionAction, string>> = {
  renewed: 'Renew',
  payment_failed: 'Card fails',
  trial_ended: 'End the trial',
  sooner: 'A week sooner',
  paused: 'Pause',
  running: 'Go on',
  cancelled: 'Cancel',
  ended: 'End',
}

/** What can happen to a subscription in each state, likeliest first. The server has the last word. */
const NEXT: Readonly<Record<SubscriptionStatus, readonly SubscriptionAction[]>> = {
  trial: ['trial_ended', 'cancelled'],
  running: ['renewed', 'payment_failed', 'sooner', 'paused', 'cancelled'],
  paused: ['running', 'ended', 'cancelled'],
  cancelled: ['ended'],
  ended: [],
}

/** The subscriptions in which something happened last, and what can happen to each. */
export function Subscriptions(): ReactNode {
  const found = useQuery({
    queryKey: ['counter', 'subscriptions'],
    queryFn: () => getJson('/api/counter/subscriptions', z.array(counterSubscription)),
    refetchInterval: 10_000,
  })
  if (found.error) return <Problem error={found.error} retry={() => void found.refetch()} />
  if (!found.data) return <Loading what="subscriptions" />
  if (found.data.length === 0) return <Empty title="Nobody has subscribed yet." />
  return (
    <table className="table table-sm">
      <thead>
        <tr>
          <th scope="col">Subscription</th>
          <th scope="col">Customer</th>
          <th scope="col">Status</th>
          <th scope="col">Next payment</th>
          <th scope="col">
            <span className="sr-only">What happens next</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {found.data.map((one) => (
          <tr key={one.id}>
            <td className="max-w-52 truncate">{one.title}</td>
            <td className="max-w-44 truncate">{one.customer}</td>
            <td>
              <span className="chip">{SUBSCRIPTION_STATUSES[one.status]}</span>
            </td>
            <td>{one.nextPaymentAt === null ? '–' : <Time at={one.nextPaymentAt} />}</td>
            <td>
              <Actions subscription={one} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Actions({ subscription }: { subscription: CounterSubscription }): ReactNode {
  const { id, title, customer, status } = subscription
  const act = useAtCounter((action: SubscriptionAction) =>
    send('POST', `/api/counter/subscriptions/${encodeURIComponent(id)}/events`, { action }),
  )
  return (
    <span className="flex justify-end gap-1">
      {NEXT[status].map((action) => (
        <button
          key={action}
          type="button"
          className="btn btn-xs"
          disabled={act.isPending}
          aria-label={`${LABELS[action]}: ${title} of ${customer}`}
          onClick={() => act.mutate(action)}
        >
          {LABELS[action]}
        </button>
      ))}
    </span>
  )
}
