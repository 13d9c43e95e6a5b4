import { useMutation } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { enterResponse } from '../../../contract/workflows.ts'
import { plural } from '../../../core/words/quantities.ts'
import { subjectOf, type Trigger } from '../../../core/workflow/trigger.ts'
import { sendJson } from '../../ui/data/api.ts'
import { AreaField } from '../../ui/fields/fields.tsx'
import { ProblemList } from '../../ui/states.tsx'
import { PutSegmentIn } from './PutSegmentIn.tsx'
import { useRefresh } from './useRefresh.ts'

const WHAT: Readonly<Record<string, string>> = {
  order: 'Order numbers, one per line',
  customer: 'Addresses or ids of customers, one per line',
  subscription: 'Ids of subscriptions, one per line',
}

/** Puts chosen orders or customers into a live workflow by hand. */
export function PutIn({ id, trigger }: { id: string; trigger: Trigger }): ReactNode {
  const [text, setText] = useState('')
  const [override, setOverride] = useState(false)
  const refresh = useRefresh(id)
  const names = text
    .split(/[\n,;]+/)
    .map((name) => name.trim())
    .filter((name) => name !== '')
  const enter = useMutation({
    mutationFn: () =>
      sendJson('POST', `/api/workflows/${id}/enter`, enterResponse, { names, override }),
    onSuccess: async ({ entered, turnedAway }) => {
      setText('')
      const rest = turnedAway > 0 ? ` ${turnedAway} turned away; the ledger says why.` : ''
      toast.success(`${plural(entered, 'run')} started.${rest}`)
      await refresh()
    },
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  const label = WHAT[subjectOf(trigger)]
  if (label === undefined) return null
  return (
    <details className="mt-4">
      <summary className="cursor-pointer font-medium">Put people in by hand</summary>
      <div className="mt-2">
        <AreaField label={label} rows={3} value={text} onChange={setText} />
        <label className="mb-2 flex items-center gap-2 text-xs">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={override}
            onChange={(event) => setOverride(event.target.checked)}
          />
          also those who may not enter yet by the entry rule
        </label>
        <button
          type="button"
          className="btn btn-sm"
          disabled={names.length === 0 || enter.isPending}
          onClick={() => enter.mutate()}
        >
          Put {names.length > 0 ? names.length : ''} in
        </button>
        {subjectOf(trigger) === 'customer' && <PutSegmentIn id={id} />}
        {trigger.kind !== 'hand' && (
          <p className="mt-2 text-xs text-secondary">
            Or let in{' '}
            <Link className="link" to={`/workflows/${id}/going-live`}>
              whoever qualifies already
            </Link>
            .
          </p>
        )}
      </div>
    </details>
  )
}
