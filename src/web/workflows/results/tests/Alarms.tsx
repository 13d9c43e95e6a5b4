import { TriangleAlert } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { ExperimentReport } from '../../../../contract/experiments.ts'
import type { ArmDrift } from '../../../../core/experiments/armDrift.ts'
import type { Judgement } from '../../../../core/experiments/judge.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { peopleWords } from '../../../../core/words/quantities.ts'
import { stepName } from '../../../../core/words/steps.ts'
import { driftWords } from '../../../../core/words/testWords.ts'
import { useWorkflowNames } from '../../../ui/data/useWorkflowNames.ts'

interface Props {
  report: ExperimentReport
  drifts: readonly ArmDrift[]
  judgement: Judgement
  definition: Definition
  nameOf: (arm: string) => string
}

/** Sharing fewer than so many of its people with another test moves nothing. */
const SHARE_WORTH_TELLING = 0.05

/** What may make an experiment tell something else than it seems to. */
export function Alarms({ report, drifts, judgement, definition, nameOf }: Props): ReactNode {
  const names = useWorkflowNames()
  const stopName = (key: string) => stepName(definition, key)
  const touching = report.touching.filter(({ people }) => people > judgement.drawn * SHARE_WORTH_TELLING) // prettier-ignore
  if (drifts.length + touching.length === 0) return null
  return (
    <ul className="mt-2 flex flex-col gap-1 text-xs">
      {drifts.map((drift) => (
        <Alarm key={drift.code}>{driftWords(drift, nameOf, stopName)}</Alarm>
      ))}
      {touching.map(({ workflowId, step, people, isSameDraw }) => (
        <Alarm key={`${workflowId} ${step}`}>
          {peopleWords(people)} of this test are also in one of{' '}
          <Link to={`/workflows/${workflowId}/results`} className="underline">
            {names.get(workflowId) ?? 'another workflow'}
          </Link>
          {isSameDraw
            ? ', by the same draw: what one of them does to people shows as a difference in the other.'
            : ': each may move the other, but all arms alike, for their draws differ.'}
        </Alarm>
      ))}
    </ul>
  )
}

function Alarm({ children }: { children: ReactNode }): ReactNode {
  return (
    <li className="flex items-start gap-2">
      <TriangleAlert size={14} className="mt-0.5 shrink-0 text-warning" aria-hidden="true" />
      <span>{children}</span>
    </li>
  )
}
