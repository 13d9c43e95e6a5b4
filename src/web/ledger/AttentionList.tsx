import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import { mayBuild } from '../../contract/roles.ts'
import { attentionItem, type AttentionItem } from '../../contract/attention.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Time, useSession } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'

const WHAT: Readonly<Record<AttentionItem['kind'], string>> = {
  failed: 'could not be sent',
  unsure: 'may or may not have arrived',
  stuck: 'could not go on',
}

/** What a person has to look at, with what can be done about it. */
export function AttentionList(): ReactNode {
  const items = useQuery({
    queryKey: ['attention'],
    queryFn: () => getJson('/api/attention', z.array(attentionItem)),
    refetchInterval: 5000,
  })
  return (
    <section className="panel mb-4 overflow-x-auto" aria-label="Needs attention now">
      {items.error && <Problem error={items.error} retry={() => void items.refetch()} />}
      {items.isPending && <Loading what="what needs attention" />}
      {items.data?.length === 0 && <Empty title="Nothing needs attention now." />}
      {items.data && items.data.length > 0 && (
        <table className="table table-sm">
          <thead>
            <tr>
              <th scope="col">Since</th>
              <th scope="col">What</th>
              <th scope="col">Customer</th>
              <th scope="col">Workflow</th>
              <th scope="col">
                <span className="sr-only">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {items.data.map((item) => (
              <Row key={`${item.kind} ${item.id}`} item={item} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

function Row({ item }: { item: AttentionItem }): ReactNode {
  return (
    <tr>
      <td>
        <Time at={item.at} />
      </td>
      <td>
        <Link to={`/runs/${item.runId}`} className="link">
          “{item.step}”
        </Link>{' '}
        <span className="text-accent">{WHAT[item.kind]}</span>
        {item.error && <span className="block text-xs text-secondary">{item.error}</span>}
      </td>
      <td>
        {item.customer.name || item.customer.id}
        <span className="block text-xs text-secondary">{item.to ?? item.customer.email}</span>
      </td>
      <td>
        <Link to={`/workflows/${item.workflow.id}`} className="link">
          {item.workflow.name}
        </Link>
      </td>
      <td>
        <Repairs item={item} />
      </td>
    </tr>
  )
}

function Repairs({ item }: { item: AttentionItem }): ReactNode {
  const { user } = useSession()
  const queries = useQueryClient()
  const repair = useMutation({
    mutationFn: (did: 'tryAgain' | 'giveUp') =>
      item.kind === 'stuck'
        ? send('POST', `/api/runs/${item.id}/repair`)
        : send('POST', `/api/messages/${item.id}/repair`, { did }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['attention'] })
      await queries.invalidateQueries({ queryKey: ['ledger'] })
    },
    onError: (error) => toast.error(error.message),
  })
  if (!mayBuild(user.role)) return null
  return (
    <span className="flex justify-end gap-1">
      <button
        type="button"
        className="btn btn-xs"
        disabled={repair.isPending}
        title={
          item.kind === 'stuck'
            ? undefined
            : 'Sends it in the words of the version that is live now'
        }
        onClick={() => repair.mutate('tryAgain')}
      >
        {item.kind === 'unsure' ? 'Send again' : 'Try again'}
      </button>
      {item.kind !== 'stuck' && (
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={repair.isPending}
          onClick={() => repair.mutate('giveUp')}
        >
          {item.kind === 'unsure' ? 'Leave it' : 'Give up'}
        </button>
      )}
    </span>
  )
}
