import { useMemo, type ReactNode } from 'react'
import type { ArmReport, ExperimentReport, TestDecision } from '../../../../contract/experiments.ts'
import { armDrift } from '../../../../core/experiments/armDrift.ts'
import type { Judgement } from '../../../../core/experiments/judge.ts'
import { experimentAt } from '../../../../core/experiments/period.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { plural } from '../../../../core/words/quantities.ts'
import {
  amountWords,
  dayOf,
  isYearsAway,
  TEST_MEASURE_WORDS,
  verdictWords,
  type TestContext,
} from '../../../../core/words/testWords.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { Alarms } from './Alarms.tsx'
import { ArmTable } from './ArmTable.tsx'
import { CausedLine } from './CausedLine.tsx'
import { Decide } from './Decide.tsx'
import { IntervalChart } from './IntervalChart.tsx'
import { judged, seenWithin } from './testFigures.ts'

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
  const shop = useShop()
  const judgement = useMemo(() => judged(report), [report])
  const context: TestContext = {
    plan: report.plan,
    nameOf: (key) => nameOf(report.arms, key),
    currency: shop.currency,
    locale: shop.locale,
    zone: shop.zone,
    now: report.now,
  }
  const step = experimentAt(definition, report.step)
  const drifts = useMemo(() => (step ? armDrift(definition, step) : []), [definition, step])
  const { verdict, comparisons } = judgement
  const isTold = verdict.kind === 'decided' || verdict.kind === 'noDifference'
  return (
    <section className="panel mb-4 p-4" aria-label={`Test: ${report.name}`}>
      <h3 className="flex flex-wrap items-baseline gap-x-3 font-medium">
        {report.name || 'Unnamed test'}
        <span className="text-xs font-normal text-secondary">{askedWords(report, context)}</span>
      </h3>
      <p className={`my-2 max-w-[70ch] text-base ${isTold ? 'font-medium' : ''}`}>
        {verdictWords(verdict, context)}
      </p>
      <Progress report={report} judgement={judgement} context={context} />
      <Alarms
        report={report}
        drifts={drifts}
        judgement={judgement}
        definition={definition}
        nameOf={context.nameOf}
      />
      {comparisons.some(({ always, fixed }) => always ?? fixed) && (
        <IntervalChart
          comparisons={comparisons}
          nameOf={context.nameOf}
          least={report.plan.least}
          write={(value) =>
            value === 0 ? 'the same' : `${value < 0 ? '−' : '+'}${amountWords(value, context)}`
          }
          label={`Differences from “${context.nameOf(comparisons[0]?.against ?? '')}”`}
        />
      )}
      <ArmTable report={report} comparisons={comparisons} context={context} />
      <CausedLine report={report} />
      {decision && <Decided decision={decision} context={context} />}
      {revision !== null && judgement.drawn > 0 && (
        <Decide report={report} workflowId={workflowId} revision={revision} judgement={judgement} />
      )}
    </section>
  )
}

export const nameOf = (arms: readonly Pick<ArmReport, 'key' | 'name'>[], key: string): string =>
  arms.find((arm) => arm.key === key)?.name || 'Unnamed arm'

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

interface ProgressProps {
  report: ExperimentReport
  judgement: Judgement
  context: TestContext
}

/** How many people it takes, how many there are, and what would help where that is too far off. */
function Progress({ report, judgement, context }: ProgressProps): ReactNode {
  const { needed, people, drawn, plannedAt } = judgement
  const { plan, perDay, now } = report
  if (needed === null) return null
  const least = amountWords(plan.least, context)
  const soon = seenWithin(report, 90)
  return (
    <p className="max-w-[90ch] text-xs text-secondary">
      To see a difference of {least} it takes {needed.toLocaleString('en-IE')} people in all.{' '}
      {people.toLocaleString('en-IE')} have had their {plural(plan.windowDays, 'day')}
      {drawn > people && `, ${(drawn - people).toLocaleString('en-IE')} are still within them`}
      {perDay > 0 && `; ${perDay.toFixed(perDay < 10 ? 1 : 0)} come a day`}.
      {isYearsAway(plannedAt, now) && (
        <>
          {' '}
          That is a long time. What would help: fewer arms, another measure, a longer time, or
          several workflows that share one draw
          {soon !== null &&
            ` – or a larger difference: three months show one of ${amountWords(soon, context)}`}
          .
        </>
      )}
    </p>
  )
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
