import { useQuery } from '@tanstack/react-query'
import { useRef, type ReactNode } from 'react'
import { z } from 'zod'
import { counterOrder, type CounterOrder, type OrderAction } from '../../contract/counter.ts'
import { ORDER_STATUSES, type OrderStatus } from '../../core/events/entities.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Amount, Time } from '../ui/data/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { useFocusNear } from '../ui/hooks/useFocusNear.ts'
import { LastEvents } from './LastEvents.tsx'
import { PlaceOrder } from './PlaceOrder.tsx'
import { Subscriptions } from './Subscriptions.tsx'
import { useAtCounter } from './useAtCounter.ts'

/** The demo's shop counter: orders are placed and dealt with by hand, and real events flow. */
export function CounterPage(): ReactNode {
  const orders = useQuery({
    queryKey: ['counter', 'orders'],
    queryFn: () => getJson('/api/counter/orders', z.array(counterOrder)),
    refetchInterval: 5000,
  })
  return (
    <div className="mx-auto grid max-w-[1400px] gap-4 p-4 lg:grid-cols-[23rem_minmax(0,1fr)]">
      <PlaceOrder />
      <section aria-label="Orders" className="min-w-0">
        <h2 className="mb-2 text-lg">Orders, newest first</h2>
        <div className="panel overflow-x-auto">
          {orders.error && <Problem error={orders.error} retry={() => void orders.refetch()} />}
          {orders.isPending && <Loading what="orders" />}
          {orders.data && <OrderTable orders={orders.data} />}
        </div>
        <h2 className="mt-5 mb-2 text-lg">Subscriptions, newest first</h2>
        <div className="panel overflow-x-auto">
          <Subscriptions />
        </div>
        <h2 className="mt-5 mb-2 text-lg">What came in last</h2>
        <div className="panel">
          <LastEvents />
        </div>
      </section>
    </div>
  )
}

function OrderTable({ orders }: { orders: CounterOrder[] }): ReactNode {
  return (
    <table className="table table-sm [&_td]:px-2 [&_th]:px-2">
      <thead>
        <tr>
          <th scope="col">Order</th>
          <th scope="col">Customer</th>
          <th scope="col" className="text-right">
            Items
          </th>
          <th scope="col" className="text-right">
            Total
          </th>
          <th scope="col">Status</th>
          <th scope="col">Since</th>
          <th scope="col">
            <span className="sr-only">What happens next</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {orders.map((order) => (
          <tr key={order.id} tabIndex={-1}>
            <td className="font-mono text-xs">{order.number}</td>
            <td className="max-w-44 truncate">{order.customer}</td>
            <td className="text-right font-mono text-xs">{order.items}</td>
            <td className="text-right">
              <Amount minor={order.totalMinor} currency={order.currency} />
            </td>
            <td>
              <span
                className={`chip ${TROUBLE.has(order.status) ? 'border-accent text-accent' : ''}`}
              >
                {ORDER_STATUSES[order.status]}
              </span>
            </td>
            <td>
              <Time at={order.at} />
            </td>
            <td>
              <Actions order={order} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const TROUBLE: ReadonlySet<OrderStatus> = new Set<OrderStatus>([
  'cancelled',
  'refunded',
  'payment_due',
  'problem',
])

const LABELS: Readonly<Record<OrderAction, string>> = {
  paid: 'Pay',
  fulfilled: 'Fulfil',
  delivered: 'Deliver',
  cancelled: 'Cancel',
  refunded: 'Refund',
  payment_failed: 'Fail payment',
  processing: 'Prepare',
  completed: 'Close',
  problem: 'Problem',
}

/** What can happen to an order in each state, likeliest first. The server has the last word. */
const NEXT: Readonly<Record<OrderStatus, readonly OrderAction[]>> = {
  placed: ['paid', 'payment_failed', 'cancelled'],
  payment_due: ['paid', 'cancelled'],
  paid: ['processing', 'fulfilled', 'problem', 'refunded', 'cancelled'],
  preparing: ['fulfilled', 'problem', 'refunded', 'cancelled'],
  problem: ['paid', 'fulfilled', 'cancelled'],
  fulfilled: ['delivered', 'completed', 'refunded'],
  delivered: ['completed', 'refunded'],
  closed: ['refunded'],
  cancelled: ['refunded'],
  refunded: [],
}

function Actions({ order }: { order: CounterOrder }): ReactNode {
  const act = useAtCounter((action: OrderAction) =>
    send('POST', `/api/counter/orders/${encodeURIComponent(order.id)}/events`, { action }),
  )
  const place = useRef<HTMLSpanElement>(null)
  // Not to the next order: what is pressed once more would happen to that one.
  const onPress = useFocusNear(place, () => place.current?.closest('tr') ?? null)
  return (
    <span ref={place} onClickCapture={onPress} className="flex justify-end gap-1">
      {NEXT[order.status].map((action) => (
        <button
          key={action}
          type="button"
          className="btn btn-xs"
          disabled={act.isPending}
          aria-label={`${LABELS[action]} order ${order.number}`}
          onClick={() => act.mutate(action)}
        >
          {LABELS[action]}
        </button>
      ))}
    </span>
  )
}
