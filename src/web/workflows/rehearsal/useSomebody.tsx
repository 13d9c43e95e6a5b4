import { useEffect, useRef, type ReactNode } from 'react'
import { useSearchParams } from 'react-router'
import { dateWords } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { Problem } from '../../ui/states.tsx'
import { Occasions } from './Occasions.tsx'
import { useLikenesses } from './useLikenesses.ts'

/** Begins with somebody real whom the address names, at the occasion nearest to the moment that it names; says so, or why not. */
export function useSomebody(
  workflowId: string,
  definition: Definition,
  onFound: (subject: Subject) => void,
): ReactNode {
  const { trigger } = definition
  const [params] = useSearchParams()
  const { zone } = useShop()
  const customerId = params.get('person')
  const at = Number(params.get('at'))
  const { data, error } = useLikenesses({ customerId, workflowId, trigger })
  const nearest = data?.occasions.toSorted((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0]
  const taken = useRef<string>(undefined)
  useEffect(() => {
    // Once: what is changed afterwards stays.
    if (!nearest || taken.current === nearest.event) return
    taken.current = nearest.event
    onFound(nearest.subject)
  }, [nearest, onFound])
  if (customerId === null) return null
  if (error) return <Problem error={error} />
  return (
    <section className="panel px-4 py-3" aria-label="Somebody real">
      <p className="mb-1 text-xs text-secondary">
        {data === undefined && 'Making up somebody like them …'}
        {data !== undefined && !nearest && 'There is nothing to begin with for this person.'}
        {nearest &&
          `Begins like ${nearest.number === null ? 'what happened to them' : `their ${nearest.number}`} on ${dateWords(nearest.at, zone)}, as they were then. What it made of them:`}
      </p>
      {data !== undefined && <Occasions customerId={customerId} workflowId={workflowId} definition={definition} onChoose={onFound} />}
    </section>
  )
} // prettier-ignore
