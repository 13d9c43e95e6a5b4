import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState, type ReactNode } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import type { z } from 'zod'
import { mayWrite } from '../../../contract/roles.ts'
import { clockResponse } from '../../../contract/session.ts'
import { versionResponse, type WorkflowResponse } from '../../../contract/workflows.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { MINUTE_MS } from '../../../core/shared/duration.ts'
import { parseInstant } from '../../../core/shared/time.ts'
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
import { WordsProvider } from '../../ui/data/words.tsx'
import { Between } from './Between.tsx'
import { Examples } from './Examples.tsx'
import { firstSubject, lineOf } from './firstSubject.ts'
import { litBy, type Lit } from './lit.ts'
import { Real } from './Real.tsx'
import { Story } from './Story.tsx'
import { TheirMessages } from './TheirMessages.tsx'
import { useShopFacts } from './useShopFacts.ts'
import { useSomebody } from './useSomebody.tsx'
import { Which } from './Which.tsx'
import { Who } from './Who.tsx'
import { Why } from './Why.tsx'

/** A draft or a version tried on somebody made up: what they get and when, and what changes if something happens in between. */
export function RehearsalPage(): ReactNode {
  const { id = '' } = useParams()
  const mayRehearse = mayWrite(useSession().user.role)
  const { name, error, ready } = useToRehearse(id)
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
      {mayRehearse && !error && !ready && <Loading what="the rehearsal" />}
      {ready && (
        <WordsProvider>
          <Rehearsal {...ready} />
        </WordsProvider>
      )}
    </div>
  )
}

/** All that a rehearsal needs to begin; `ready` once it is there. */
function useToRehearse(id: string): { name: string; error: Error | null; ready: Props | null } {
  const version = Number(useSearchParams()[0].get('version')) || null
  const workflow = useWorkflow(id)
  const shop = useShopFacts()
  const clock = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
  })
  const published = useQuery({
    queryKey: ['version', id, version],
    queryFn: () => getJson(`/api/workflows/${id}/versions/${version}`, versionResponse),
    enabled: version !== null,
  })
  const isThere = version === null || published.data !== undefined
  const { facts } = shop
  return {
    name: workflow.data?.draft.name || 'Unnamed workflow',
    error: workflow.error ?? shop.error ?? clock.error ?? published.error,
    ready: workflow.data && facts && clock.data && isThere
      ? { workflow: workflow.data, version: published.data ?? null, shop: facts, now: clock.data.now }
      : null,
  } // prettier-ignore
}

interface Props {
  workflow: WorkflowResponse
  /** The version that is rehearsed; the draft where it is none. */
  version: z.infer<typeof versionResponse> | null
  shop: ShopFacts
  now: number
}

function Rehearsal({ workflow, version, shop, now }: Props): ReactNode {
  const draft = useDraft(workflow)
  const definition = version?.definition ?? draft.definition
  const products = useProducts()
  const [made, setMade] = useState<Subject | null>(null)
  const subject = made ?? firstSubject(now, products, shop.currency, definition.trigger)
  // What is typed is never kept waiting for a long workflow.
  const later = useDeferredValue(subject)
  const lit = useMemo(() => tried(() => litBy(definition, later, shop)), [definition, later, shop])
  const change = (to: Partial<Subject>) => setMade({ ...subject, ...to })
  const [step, setStep] = useState<string | null>(null)
  const who = useSomebody(workflow.id, definition, setMade)
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
            <Lighted definition={definition} lit={lit.value} onStep={setStep} />
          ) : (
            <p role="alert" className="panel p-4">
              It cannot be rehearsed yet: {lit.problem}
            </p>
          )}
          <div className="grid items-start gap-3 lg:grid-cols-2">
            <Between
              between={subject.between}
              minutes={minutesOf(subject, lit.value)}
              onChange={(between) => change({ between })}
            />
            {lit.value && <Story definition={definition} told={lit.value.told} />}
          </div>
          {lit.value && (
            <TheirMessages
              definition={definition}
              subject={later}
              told={lit.value.told}
              step={step}
              onStep={setStep}
            />
          )}
          {lit.value && (
            <Why
              definition={definition}
              subject={later}
              told={lit.value.told}
              products={products
                .filter(({ currency }) => currency === shop.currency)
                .map((one) => lineOf(one))}
              shop={shop}
              step={step}
              onStep={setStep}
              onTry={setMade}
            />
          )}
        </div>
        <div className="flex flex-col gap-3 self-start">
          <Which id={workflow.id} version={version?.version ?? null} />
          {who}
          <Real workflowId={workflow.id} definition={definition} onChoose={setMade} />
          <Who subject={subject} definition={definition} products={products} onChange={change} />
          {lit.value && version === null && (
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

/** How long they are on their way, in minutes; nothing for who does not come in. */
function minutesOf({ at }: Subject, lit: Lit | undefined): number {
  const last = lit?.told.entries.at(-1)?.at
  return last === undefined ? 0 : Math.ceil((last - (parseInstant(at) ?? last)) / MINUTE_MS)
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

interface LightedProps {
  definition: Definition
  lit: Lit
  onStep: (step: string) => void
}

function Lighted({ definition, lit, onStep }: LightedProps): ReactNode {
  const [selection, setSelection] = useState(WHOLE)
  const select = (to: Selection) => {
    setSelection(to)
    if (to.kind === 'step') onStep(to.key)
  }
  return (
    <div className="flex h-[52vh] min-h-72 flex-col">
      <Timetable
        definition={definition}
        numbers={lit.numbers}
        corner={lit.told.runs === 0 ? 'does not come in' : 'one person'}
        selection={selection}
        onSelect={select}
        editing={undefined}
        marks={UNMARKED}
        whole={false}
        bands
        label="The way they take"
      />
    </div>
  )
}
