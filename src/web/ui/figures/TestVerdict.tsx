import type { ReactNode } from 'react'
import type { ExperimentReport } from '../../../contract/experiments.ts'
import type { Judgement } from '../../../core/experiments/judge.ts'
import { plural } from '../../../core/words/quantities.ts'
import {
  amountWords,
  isYearsAway,
  verdictWords,
  type TestContext,
} from '../../../core/words/testWords.ts'
import { ArmTable } from './ArmTable.tsx'
import { CausedLine } from './CausedLine.tsx'
import { IntervalChart } from './IntervalChart.tsx'
import { seenWithin } from './testFigures.ts'

interface Props extends ProgressProps {
  /** Said in the place of what is judged. */
  instead?: string | null
  /** What is to be known before the figures. */
  children?: ReactNode
}

/** What people drawn into arms have shown: in words first, then as a picture, then in numbers. */
export function TestVerdict({
  report,
  judgement,
  context,
  whatHelps,
  instead,
  children,
}: Props): ReactNode {
  const { verdict, comparisons } = judgement
  const isTold = verdict.kind === 'decided' || verdict.kind === 'noDifference'
  return (
    <>
      <p className={`my-2 max-w-[70ch] text-base ${isTold ? 'font-medium' : ''}`}>
        {instead ?? verdictWords(verdict, context)}
      </p>
      <Progress report={report} judgement={judgement} context={context} whatHelps={whatHelps} />
      {children}
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
    </>
  )
}

interface ProgressProps {
  report: ExperimentReport
  judgement: Judgement
  context: TestContext
  whatHelps: string
}

/** How many people it takes, how many there are, and what would help where that is too far off. */
function Progress({ report, judgement, context, whatHelps }: ProgressProps): ReactNode {
  const { needed, people, drawn, plannedAt, verdict } = judgement
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
      {verdict.kind !== 'decided' && isYearsAway(plannedAt, now) && (
        <>
          {' '}
          That is a long time. What would help: {whatHelps}
          {soon !== null &&
            ` – or a larger difference: three months show one of ${amountWords(soon, context)}`}
          .
        </>
      )}
    </p>
  )
}
