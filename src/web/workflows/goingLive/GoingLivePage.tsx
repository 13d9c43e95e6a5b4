import { useQuery } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { mayBuild } from '../../../contract/roles.ts'
import { clockResponse } from '../../../contract/session.ts'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { sortedByAnswer } from '../../../core/check/answers.ts'
import { EXAMPLES_DIFFER } from '../../../core/check/exampleFindings.ts'
import type { Finding } from '../../../core/check/finding.ts'
import { sameDocument } from '../../../core/shared/sameDocument.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useSession } from '../../ui/data/shop.tsx'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../../ui/states.tsx'
import { SaveNote } from '../draft/SaveNote.tsx'
import { useDraft } from '../draft/useDraft.ts'
import { FindingsStrip } from '../findings/FindingsStrip.tsx'
import { useFindings } from '../findings/useFindings.ts'
import { Others } from '../page/Others.tsx'
import { useOthers } from '../page/useOthers.ts'
import { useWorkflow } from '../page/useWorkflow.ts'
import { StateChip } from '../states/StateChip.tsx'
import { WordsProvider } from '../../ui/data/words.tsx'
import { AlsoGet } from './AlsoGet.tsx'
import { Changes } from './Changes.tsx'
import { Covered } from './Covered.tsx'
import { Intakes } from './Intakes.tsx'
import { LetIn } from './LetIn.tsx'
import { Messages } from './Messages.tsx'
import { Part } from './Part.tsx'
import { NOBODY, type Choices } from './choices.ts'
import { SwitchOn } from './SwitchOn.tsx'
import { WhoComesIn } from './WhoComesIn.tsx'

/** All there is to know before a workflow is switched on, on one page. */
export function GoingLivePage(): ReactNode {
  const { id = '' } = useParams()
  const mayEdit = mayBuild(useSession().user.role)
  const workflow = useWorkflow(id)
  const clock = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
  })
  const error = workflow.error ?? clock.error
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-3 p-4">
      <Heading id={id} workflow={workflow.data} />
      {error && <Problem error={error} />}
      {!mayEdit && <Empty title="Marketers switch workflows on." />}
      {mayEdit && !error && !(workflow.data && clock.data) && <Loading what="the workflow" />}
      {mayEdit && workflow.data && clock.data && (
        <WordsProvider>
          <GoingLive key={id} workflow={workflow.data} now={clock.data.now} />
        </WordsProvider>
      )}
    </div>
  )
}

function Heading({
  id,
  workflow,
}: {
  id: string
  workflow: WorkflowResponse | undefined
}): ReactNode {
  const name = workflow?.draft.name || 'Unnamed workflow'
  const live = workflow?.live ?? null
  const isAsLive = live !== null && sameDocument(live, workflow?.draft)
  return (
    <div className="flex items-center gap-3">
      <PageHeading title={`Going live · ${name}`} className="text-xl">
        {isAsLive ? 'Letting people into ' : 'Before '}
        <Link to={`/workflows/${id}`} className="hover:underline">
          {name}
        </Link>
        {isAsLive ? '' : ' goes live'}
      </PageHeading>
      {workflow && <StateChip state={workflow.state} version={workflow.liveVersion} />}
    </div>
  )
}

function GoingLive({ workflow, now }: { workflow: WorkflowResponse; now: number }): ReactNode {
  const { id, state, live } = workflow
  const draft = useDraft(workflow)
  const { definition } = draft
  const navigate = useNavigate()
  const others = useOthers(id, draft.follow)
  const findings = useFindings(id, definition)
  const open = useOpen(findings, definition)
  const [choices, setChoices] = useState<Choices>({ includeToday: false, takeOver: null, letIn: NOBODY }) // prettier-ignore
  const choose = (to: Partial<Choices>) => setChoices((before) => ({ ...before, ...to }))
  const isChanged = live === null || !sameDocument(live, definition)
  const saved = draft.save.kind === 'saved' ? definition : null
  const isRunnable = open !== null && open.errors === 0
  if (state === 'retired') {
    return <Empty title="Out of use for good.">A duplicate can go live.</Empty>
  }
  return (
    <>
      {others.length > 0 && <Others others={others} />}
      <SaveNote
        save={draft.save}
        takeTheirs={draft.takeTheirs}
        keepMine={draft.keepMine}
        onShow={NOWHERE}
      />
      {live && isChanged && <Changes live={live} draft={definition} />}
      <Part title="What the check finds">
        <AllOfThem>
          <FindingsStrip
            id={id}
            definition={definition}
            onShow={({ code, place }) =>
              void (code === EXAMPLES_DIFFER
                ? navigate(`/workflows/${id}/rehearsal`)
                : navigate(`/workflows/${id}`, { state: { place } }))
            }
            onEdit={draft.edit}
          />
        </AllOfThem>
      </Part>
      <WhoComesIn
        id={id}
        state={state}
        definition={definition}
        saved={saved}
        includeToday={choices.includeToday}
        onIncludeToday={(includeToday) => choose({ includeToday })}
      />
      <Messages definition={definition} isRunnable={isRunnable} now={now} />
      <Covered id={id} definition={definition} isRunnable={isRunnable} />
      <AlsoGet
        id={id}
        definition={definition}
        saved={saved}
        takeOver={choices.takeOver}
        onTakeOver={(takeOver) => choose({ takeOver })}
      />
      {state !== 'paused' && (
        <LetIn
          id={id}
          definition={definition}
          saved={saved}
          isRunnable={isRunnable}
          chosen={choices.letIn}
          onChoose={(letIn) => choose({ letIn })}
        />
      )}
      <Intakes id={id} />
      <SwitchOn
        workflow={workflow}
        flush={draft.flush}
        isChanged={isChanged}
        open={open}
        choices={choices}
      />
    </>
  )
}

/** Beside the timetable findings are scrolled in; here there is room for all. */
const AllOfThem = ({ children }: { children: ReactNode }): ReactNode => (
  <div className="[&_ul]:max-h-none">{children}</div>
)

/** What is wrong with what was saved is mended where it is built. */
const NOWHERE = () => undefined

/** How many findings are open: those that stop it, and those that only advise. Null while the check is looking. */
function useOpen(
  findings: readonly Finding[] | null,
  { answered }: Definition,
): { errors: number; warnings: number } | null {
  return useMemo(() => {
    if (!findings) return null
    const { open } = sortedByAnswer(findings, answered)
    const errors = open.filter(({ severity }) => severity === 'error').length
    return { errors, warnings: open.length - errors }
  }, [findings, answered])
}
