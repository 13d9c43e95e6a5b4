import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { clockResponse } from '../../../contract/session.ts'
import { shopRulesResponse } from '../../../contract/shopRules.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import type { Subject } from '../../../core/rehearsal/subject.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { useProducts } from '../../ui/data/useProducts.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Loading, Problem } from '../../ui/states.tsx'
import { useWorkflow } from '../page/useWorkflow.ts'
import type { Selection } from '../selection.ts'
import { Timetable } from '../timetable/Timetable.tsx'
import { WordsProvider } from '../words.tsx'
import { Between } from './Between.tsx'
import { firstSubject } from './firstSubject.ts'
import { litBy, type Lit } from './lit.ts'
import { Story } from './Story.tsx'
import { Who } from './Who.tsx'

/** A draft tried on somebody made up: what they get and when, and what changes if something happens in between. */
export function RehearsalPage(): ReactNode {
  const { id = '' } = useParams()
  const workflow = useWorkflow(id)
  const shop = useShopFacts()
  const clock = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
  })
  const error = workflow.error ?? shop.error ?? clock.error
  const name = workflow.data?.draft.name || 'Unnamed workflow'
  return (
    <div className="mx-auto flex max-w-[1500px] flex-col gap-3 p-4">
      <PageHeading title={`Rehearsal · ${name}`} className="text-xl">
        Rehearsal of{' '}
        <Link to={`/workflows/${id}`} className="hover:underline">
          {name}
        </Link>
      </PageHeading>
      {error && <Problem error={error} />}
      {!error && !(workflow.data && shop.facts && clock.data) && <Loading what="the rehearsal" />}
      {workflow.data && shop.facts && clock.data && (
        <WordsProvider>
          <Rehearsal definition={workflow.data.draft} shop={shop.facts} now={clock.data.now} />
        </WordsProvider>
      )}
    </div>
  )
}

/** The shop as its rules are, but for the holdout: who is made up is never held out. */
function useShopFacts(): { facts: ShopFacts | undefined; error: Error | null } {
  const shop = useShop()
  const { data, error } = useQuery({
    queryKey: ['shop-rules'],
    queryFn: () => getJson('/api/shop-rules', shopRulesResponse),
  })
  const facts = useMemo(() => {
    if (!data) return undefined
    const { name, zone, currency, locale } = shop
    const { messageGap, quietHours, backOfficeUrl = null } = data
    return { name, zone, currency, locale, messageGap, quietHours, backOfficeUrl, holdout: null }
  }, [shop, data])
  return { facts, error }
}

interface Props {
  definition: Definition
  shop: ShopFacts
  now: number
}

function Rehearsal({ definition, shop, now }: Props): ReactNode {
  const products = useProducts()
  const [made, setMade] = useState<Subject | null>(null)
  const subject = made ?? firstSubject(now, products, shop.currency)
  // What is typed is never kept waiting for a long workflow.
  const later = useDeferredValue(subject)
  const lit = useMemo(() => tried(() => litBy(definition, later, shop)), [definition, later, shop])
  const change = (to: Partial<Subject>) => setMade({ ...subject, ...to })
  return (
    <div className="grid gap-3 lg:grid-cols-[1fr_22rem]">
      <div className="flex min-w-0 flex-col gap-3">
        {lit.value ? (
          <Lighted definition={definition} lit={lit.value} />
        ) : (
          <p role="alert" className="panel p-4">
            It cannot be rehearsed yet: {lit.problem}
          </p>
        )}
        <div className="grid items-start gap-3 lg:grid-cols-2">
          <Between between={subject.between} onChange={(between) => change({ between })} />
          {lit.value && <Story definition={definition} told={lit.value.told} />}
        </div>
      </div>
      <Who subject={subject} trigger={definition.trigger} products={products} onChange={change} />
    </div>
  )
}

/** A draft that is not finished may be one that cannot be run. */
function tried<Value>(make: () => Value): { value?: Value; problem?: string } {
  try {
    return { value: make() }
  } catch (error) {
    return { problem: error instanceof Error ? error.message : String(error) }
  }
}

const UNMARKED = () => undefined
const WHOLE: Selection = { kind: 'workflow' }

function Lighted({ definition, lit }: { definition: Definition; lit: Lit }): ReactNode {
  const [selection, setSelection] = useState(WHOLE)
  return (
    <div className="flex h-[52vh] min-h-72 flex-col">
      <Timetable
        definition={definition}
        numbers={lit.numbers}
        corner={lit.told.runs === 0 ? 'does not come in' : 'one person'}
        selection={selection}
        onSelect={setSelection}
        editing={undefined}
        marks={UNMARKED}
        whole={false}
        bands
        label="The way they take"
      />
    </div>
  )
}
