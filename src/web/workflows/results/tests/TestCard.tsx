import { useMemo, type ReactNode } from 'react'
import type { ExperimentReport, TestDecision } from '../../../../contract/experiments.ts'
import { armDrift } from '../../../../core/experiments/armDrift.ts'
import { experimentAt } from '../../../../core/experiments/period.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { plural } from '../../../../core/words/quantities.ts'
import {
  dayOf,
  TEST_MEASURE_WORDS,
  verdictWords,
  type TestContext,
} from '../../../../core/words/testWords.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { Alarms } from './Alarms.tsx'
import { Decide } from './Decide.tsx'
import { contextOf, judged, nameOf } from '../../../ui/figures/testFigures.ts'
import { TestVerdict } from '../../../ui/figures/TestVerdict.tsx'

interface Props {
  report: ExperimentReport
  definition: Definition
  workflowId: string
  /** The draft that a decision is made in; null where nothing can be decided here. */
  revision: number | null
  decision?: TestDecision | undefined
}

/** One experiment: in words first, then as a picture, then in numbers. */
export function TestCard({ report, definition, workflowId, revision, decision }: Props): ReactNode {
  const judgement = useMemo(() => judged(report), [report])
  const context = contextOf(report, useShop())
  const step = experimentAt(definition, report.step)
  const drifts = useMemo(() => (step ? armDrift(definition, step) : []), [definition, step])
  return (
    <section className="panel mb-4 p-4" aria-label={`Test: ${report.name}`}>
      <h3 className="flex flex-wrap items-baseline gap-x-3 font-medium">
        {report.name || 'Unnamed test'}
        <span className="text-xs font-normal text-secondary">{askedWords(report, context)}</span>
      </h3>
      <TestVerdict
        report={report}
        judgement={judgement}
        context={context}
        whatHelps="fewer arms, another measure, a longer time, or several workflows that share one draw"
      >
        <Alarms
          report={report}
          drifts={drifts}
          judgement={judgement}
          definition={definition}
          nameOf={context.nameOf}
        />
      </TestVerdict>
      {decision && <Decided decision={decision} context={context} />}
      {revision !== null && judgement.drawn > 0 && (
        <Decide report={report} workflowId={workflowId} revision={revision} judgement={judgement} />
      )}
    </section>
  )
}

function askedWords(
  { plan, isUnplanned, from, until }: ExperimentReport,
  context: TestContext,
): string {
  const measure = TEST_MEASURE_WORDS[plan.measure].label
  const when =
    until === null
      ? `since ${dayOf(from, context)}`
      : `${dayOf(from, context)} to ${dayOf(until, context)}`
  const asked = `by ${measure} within ${plural(plan.windowDays, 'day')} of the draw`
  return isUnplanned ? `${asked}, as nothing was planned; ${when}` : `${asked}; ${when}`
}

function Decided({
  decision,
  context,
}: {
  decision: TestDecision
  context: TestContext
}): ReactNode {
  const { at, by, arm, note, report } = decision
  const then = { ...context, plan: report.plan, now: report.now, nameOf: (key: string) => nameOf(report.arms, key) } // prettier-ignore
  return (
    <div className="mt-3 border-t border-base-300 pt-3">
      <p className="font-medium">
        {by} decided on {dayOf(at, context)}: everybody takes “{nameOf(report.arms, arm)}”.
      </p>
      {note !== '' && <p className="mt-1 whitespace-pre-wrap">{note}</p>}
      <p className="mt-1 text-xs text-secondary">
        The figures of that day said: {verdictWords(judged(report).verdict, then)}
      </p>
    </div>
  )
}
