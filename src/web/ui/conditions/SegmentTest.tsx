import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { z } from 'zod'
import { segment } from '../../../contract/people.ts'
import type { SegmentCondition } from '../../../core/conditions/condition.ts'
import { conditionWords } from '../../../core/words/conditions.ts'
import { getJson } from '../data/api.ts'
import { useWordContext } from '../data/words.tsx'
import { Problem } from '../states.tsx'

interface Props {
  /** Null while none is chosen yet. */
  value: SegmentCondition | null
  onChange: (condition: SegmentCondition) => void
}

/** Whether somebody is in a segment: which, what it asks, and whether it has come to ask something else since. */
export function SegmentTest({ value, onChange }: Props): ReactNode {
  const words = useWordContext()
  const { data, error, refetch } = useQuery({
    queryKey: ['segments'],
    queryFn: () => getJson('/api/segments', z.array(segment)),
  })
  const choose = (id: string) => {
    const found = data?.find((one) => one.id === id)
    if (found) onChange({ kind: 'segment', segment: id, name: found.name, of: found.condition })
  }
  const kept = data?.find(({ id }) => id === value?.segment)
  const isOlder = kept && value && JSON.stringify(kept.condition) !== JSON.stringify(value.of)
  return (
    <div>
      {error && <Problem error={error} retry={() => void refetch()} />}
      <select
        className="select select-xs w-full"
        aria-label="Segment"
        value={value?.segment ?? ''}
        onChange={(event) => choose(event.target.value)}
      >
        {!kept && <option value={value?.segment ?? ''}>{value ? value.name : 'Choose one …'}</option>}
        {data?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      {data?.length === 0 && !value && (
        <p className="mt-1 text-xs text-secondary">There are none yet: a condition is kept as one under People.</p>
      )}
      {value && <p className="mt-1 text-xs text-secondary">{conditionWords(value.of, words)}</p>}
      {value && data && !kept && (
        <p className="mt-1 text-xs text-secondary">The segment is gone; what it asked is asked still.</p>
      )}
      {isOlder && (
        <p className="mt-1 text-xs">
          By now it asks: {conditionWords(kept.condition, words)}.{' '}
          <button type="button" className="link" onClick={() => choose(kept.id)}>
            Take that over
          </button>
        </p>
      )}
    </div>
  )
} // prettier-ignore
