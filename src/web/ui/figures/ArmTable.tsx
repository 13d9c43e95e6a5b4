import type { ReactNode } from 'react'
import type { ArmReport, ExperimentReport } from '../../../contract/experiments.ts'
import type { Comparison } from '../../../core/experiments/judge.ts'
import type { TestMeasure } from '../../../core/workflow/testPlan.ts'
import { spanWords, type TestContext } from '../../../core/words/testWords.ts'
import { Amount, useShop } from '../data/shop.tsx'
import { Rate } from './Rate.tsx'

interface Props {
  report: ExperimentReport
  comparisons: readonly Comparison[]
  context: TestContext
}

const HEADS: readonly { measure: TestMeasure; head: string }[] = [
  { measure: 'ordered', head: 'Ordered' },
  { measure: 'revenue', head: 'Revenue per person' },
  { measure: 'clicked', head: 'Clicked' },
  { measure: 'reviewed', head: 'Reviewed' },
  { measure: 'unsubscribed', head: 'Unsubscribed' },
]

/** Every arm with everything that is counted of it; what decides stands out. */
export function ArmTable({ report, comparisons, context }: Props): ReactNode {
  const { arms, plan } = report
  const weights = arms.reduce((sum, { weight }) => sum + weight, 0)
  const drawn = arms.reduce((sum, one) => sum + one.drawn, 0)
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="table table-sm">
        <thead>
          <tr>
            <th>Arm</th>
            <th className="text-right">Drawn</th>
            <th className="text-right">Counted</th>
            {HEADS.map(({ measure, head }) => (
              <th
                key={measure}
                className={`text-right ${measure === plan.measure ? 'text-base-content' : ''}`}
              >
                {head}
                {measure === plan.measure && <span className="sr-only">, which decides</span>}
              </th>
            ))}
            <th className="text-right">Difference</th>
          </tr>
        </thead>
        <tbody>
          {arms.map((arm) => (
            <tr key={arm.key}>
              <th scope="row" className="font-medium">
                {arm.name || 'Unnamed arm'}
                {arm.holdout && (
                  <span className="block text-xs font-normal text-secondary">gets nothing</span>
                )}
              </th>
              <td className="text-right font-mono text-xs">
                {arm.drawn}
                <span className="block text-[10.5px] text-secondary">
                  {share(arm.drawn, drawn)}, meant {share(arm.weight, weights)}
                </span>
              </td>
              <td className="text-right font-mono text-xs">{arm.people}</td>
              {HEADS.map(({ measure }) => (
                <td
                  key={measure}
                  className={`text-right font-mono text-xs ${measure === plan.measure ? 'bg-base-200' : ''}`}
                >
                  <Figure arm={arm} measure={measure} />
                </td>
              ))}
              <td className="text-right font-mono text-xs">
                <Difference
                  comparison={comparisons.find((one) => one.arm === arm.key)}
                  context={context}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

const share = (part: number, whole: number): string =>
  whole === 0 ? '–' : `${Math.round((1000 * part) / whole) / 10} %`

function Figure({ arm, measure }: { arm: ArmReport; measure: TestMeasure }): ReactNode {
  const { currency } = useShop()
  if (measure !== 'revenue') return <Rate did={arm[measure]} of={arm.people} />
  if (arm.people === 0) return '–'
  return (
    <span title="Dear orders count only up to the dearest hundredth of the shop’s last year; without that cut, below.">
      <Amount minor={Math.round(arm.revenueMinor / arm.people)} currency={currency} />
      <span className="block text-[10.5px] text-secondary">
        <Amount minor={Math.round(arm.uncutMinor / arm.people)} currency={currency} /> uncut
      </span>
    </span>
  )
}

function Difference({
  comparison,
  context,
}: {
  comparison: Comparison | undefined
  context: TestContext
}): ReactNode {
  if (!comparison) return <span className="text-secondary">the others against this</span>
  const interval = comparison.always ?? comparison.fixed
  if (!interval) return <span className="text-secondary">too early</span>
  const unit = context.plan.measure === 'revenue' ? '' : ' points'
  return (
    <>
      {spanWords(interval.low, interval.high, context)}
      {unit}
    </>
  )
}
