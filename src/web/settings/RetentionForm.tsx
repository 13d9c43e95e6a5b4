import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import {
  RETAINED,
  retentionSchema,
  USUALLY_KEPT,
  type Retained,
  type Retention,
} from '../../core/people/retention.ts'
import { getJson, send } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { ChoiceField } from '../ui/fields/fields.tsx'
import { Loading, Problem } from '../ui/states.tsx'

const WHAT: Readonly<Record<Retained, string>> = {
  visits: 'What people looked at, opened and clicked',
  mails: 'Copies of messages in the mailbox',
  ledger: 'Decisions in the ledger',
  arrivals: 'What came over connections, and what was refused',
  files: 'Refused rows of files',
  people: 'People who did nothing any more: erased',
}

const TERMS = {
  '': 'for good',
  '90': '90 days',
  '180': '180 days',
  '365': 'a year',
  '730': 'two years',
  '1095': 'three years',
}

/** How long things are kept. */
export function RetentionForm(): ReactNode {
  const kept = useQuery({
    queryKey: ['retention'],
    queryFn: () => getJson('/api/retention', retentionSchema),
  })
  const save = useChange((body: Retention) => send('PUT', '/api/retention', body), 'retention')
  const shown = save.isPending ? save.variables : kept.data
  return (
    <section className="panel mb-4 p-4" aria-label="How long things are kept">
      <h2 className="text-base">How long things are kept</h2>
      <p className="mb-3 text-secondary">
        What is older goes, once a day. Orders, consent and who was in which workflow are kept until
        a person is erased. Results and conditions about what has gone count it no more. Who is to
        be erased has done nothing for so long, is in no workflow and has no subscription.
      </p>
      {kept.error && <Problem error={kept.error} retry={() => void kept.refetch()} />}
      {!shown && !kept.error && <Loading what="the terms" />}
      {shown && (
        <div className="grid items-end gap-x-4 sm:grid-cols-3">
          {RETAINED.map((kind) => (
            <ChoiceField
              key={kind}
              label={WHAT[kind]}
              value={String(shown[kind] ?? '')}
              choices={{ ...TERMS, '': usual(kind), ...own(shown[kind]) }}
              onChange={(days) =>
                save.mutate({ ...shown, [kind]: days === '' ? null : Number(days) })
              }
            />
          ))}
        </div>
      )}
    </section>
  )
}

/** How long a kind is kept where nothing is said. */
const usual = (kind: Retained): string =>
  USUALLY_KEPT[kind] === undefined ? 'for good' : `${USUALLY_KEPT[kind]} days`

/** A term that was set elsewhere. */
const own = (days: number | null | undefined): Record<string, string> =>
  days === null || days === undefined || String(days) in TERMS
    ? {}
    : { [String(days)]: `${days} days` }
