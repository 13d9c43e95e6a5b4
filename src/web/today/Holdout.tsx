import { useMemo, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { ExperimentReport } from '../../contract/experiments.ts'
import { holdoutResponse } from '../../contract/overview.ts'
import { dayOf, soFarWords } from '../../core/words/testWords.ts'
import { useShop } from '../ui/data/shop.tsx'
import { contextOf, judged } from '../ui/figures/testFigures.ts'
import { TestVerdict } from '../ui/figures/TestVerdict.tsx'
import { Part } from './Part.tsx'

/** What people would have bought anyway: those who get no marketing, beside those who may. */
export function Holdout(): ReactNode {
  return (
    <div className="mt-4">
      <Part
        title="What marketing causes"
        note="What is attributed to messages is more than what they cause: many would have ordered anyway. Those who are held out of all marketing show how many."
        path="/api/overview/holdout"
        schema={holdoutResponse}
      >
        {({ reports: [newest, ...earlier] }) =>
          newest ? (
            <>
              <Report report={newest} />
              {earlier.length > 0 && (
                <details className="mt-3">
                  <summary className="cursor-pointer">Earlier holdouts</summary>
                  {earlier.map((report) => (
                    <Report key={report.from} report={report} />
                  ))}
                </details>
              )}
            </>
          ) : (
            <p className="mt-2">
              Nobody is held out.{' '}
              <Link className="link" to="/settings">
                Settings
              </Link>{' '}
              can hold a few in a hundred people out of all marketing; some weeks later this says
              what it brings.
            </p>
          )
        }
      </Part>
    </div>
  )
}

function Report({ report }: { report: ExperimentReport }): ReactNode {
  const context = contextOf(report, useShop())
  const judgement = useMemo(() => judged(report), [report])
  const { verdict, comparisons } = judgement
  const { from, until, arms, plan } = report
  const percent = arms.find(({ holdout }) => holdout)?.weight ?? 0
  const when = until === null ? `since ${dayOf(from, context)}` : `${dayOf(from, context)} to ${dayOf(until, context)}` // prettier-ignore
  return (
    <section className="mt-2" aria-label={`Holdout ${when}`}>
      <p className="text-xs text-secondary">
        {report.name}: {percent} in 100 people, {when}; counted for {plan.windowDays} days from
        their first marketing message, or from when it would have left.
      </p>
      <TestVerdict
        report={report}
        judgement={judgement}
        context={context}
        instead={verdict.kind === 'open' ? soFarWords(comparisons, context) : null}
        whatHelps="holding more people out, or more time"
      />
    </section>
  )
}
