import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { clockResponse } from '../../../contract/session.ts'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useSession } from '../../ui/data/shop.tsx'
import { useProducts } from '../../ui/data/useProducts.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../../ui/states.tsx'
import { SaveNote } from '../draft/SaveNote.tsx'
import { useDraft } from '../draft/useDraft.ts'
import { useWorkflow } from '../page/useWorkflow.ts'
import type { Selection } from '../selection.ts'
import { Timetable } from '../timetable/Timetable.tsx'
import { WordsProvider } from '../words.tsx'
import { Between } from './Between.tsx'
import { Examples } from './Examples.tsx'
import { firstSubject } from './firstSubject.ts'
import { litBy, type Lit } from './lit.ts'
import { Real } from './Real.tsx'
import { Story } from './Story.tsx'
import { useShopFacts } from './useShopFacts.ts'
import { Who } from './Who.tsx'

/** A draft tried on somebody made up: what they get and when, and what changes if something happens in between. */
export function RehearsalPage(): ReactNode {
  const { id = '' } = useParams()
  const workflow = useWorkflow(id)
  const shop = useShopFacts()
  const mayRehearse = useSession().user.role === 'marketer'
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
      {!mayRehearse && (
        <Empty title="Marketers rehearse.">
          It goes by the shop’s rules, which only they may see.
        </Empty>
      )}
      {mayRehearse && !error && !(workflow.data && shop.facts && clock.data) && (
        <Loading what="the rehearsal" />
      )}
      {workflow.data && shop.facts && clock.data && (
        <WordsProvider>
          <Rehearsal workflow={workflow.data} shop={shop.facts} now={clock.data.now} />
        </WordsProvider>
      )}
    </div>
  )
}

interface Props {
  workflow: WorkflowResponse
  shop: ShopFacts
  now: number
}

function Rehearsal({ workflow, shop, now }: Props): ReactNode {
  const draft = useDraft(workflow)
  const { definition } = draft
  const products = useProducts()
  const [made, setMade] = useState<Subject | null>(null)
  const subject = made ?? firstSubject(now, products, shop.currency)
  // What is typed is never kept waiting for a long workflow.
  const later = useDeferredValue(subject)
  const lit = useMemo(() => tried(() => litBy(definition, later, shop)), [definition, later, shop])
  const change = (to: Partial<Subject>) => setMade({ ...subject, ...to })
  return (
    <>
      <SaveNote
        save={draft.save}
        takeTheirs={draft.takeTheirs}
        keepMine={draft.keepMine}
        onShow={NOWHERE}
      />
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
        <div className="flex flex-col gap-3 self-start">
          <Real trigger={definition.trigger} onChoose={setMade} />
          <Who subject={subject} definition={definition} products={products} onChange={change} />
          {lit.value && (
            <Examples
              definition={definition}
              shop={shop}
              subject={subject}
              told={lit.value.told}
              onOpen={setMade}
              onEdit={draft.edit}
            />
          )}
        </div>
      </div>
    </>
  )
}

/** What is wrong in a draft is mended where it is built. */
const NOWHERE = () => undefined

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
