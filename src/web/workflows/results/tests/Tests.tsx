import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import {
  experimentsResponse,
  type ExperimentReport,
  type TestDecision,
} from '../../../../contract/experiments.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { getJson } from '../../../ui/data/api.ts'
import { Loading, Problem } from '../../../ui/states.tsx'
import { TestCard } from './TestCard.tsx'

interface Props {
  workflowId: string
  definition: Definition
  revision: number
}

/** The tests of a workflow: those that go on, those that were decided, and what came before their arms were changed. */
export function Tests({ workflowId, definition, revision }: Props): ReactNode {
  const tests = useQuery({
    queryKey: ['experiments', workflowId],
    queryFn: ({ signal }) => getJson(`/api/workflows/${workflowId}/experiments`, experimentsResponse, signal), // prettier-ignore
  })
  if (tests.error) return <Problem error={tests.error} retry={() => void tests.refetch()} />
  if (!tests.data) return <Loading what="the tests" />
  const { reports, earlier, decisions } = tests.data
  if (reports.length + decisions.length === 0) return null
  const about = { definition, workflowId }
  const gone = decisions.filter(
    (one) => ![...reports, ...earlier].some((report) => isOf(one, report)),
  )
  return (
    <section aria-labelledby="tests">
      <h2 id="tests" className="mt-5 mb-2 text-lg">
        Tests
      </h2>
      {reports.map((report) => (
        <TestCard
          key={report.step}
          {...about}
          report={report}
          revision={report.until === null ? revision : null}
          decision={decisions.find((one) => isOf(one, report))}
        />
      ))}
      {gone.map((decision) => (
        <TestCard
          key={decision.id}
          {...about}
          report={decision.report}
          revision={null}
          decision={decision}
        />
      ))}
      {earlier.length > 0 && (
        <details className="mb-4">
          <summary className="cursor-pointer">Before the arms were changed</summary>
          {earlier.map((report) => (
            <TestCard
              key={`${report.step} ${report.from}`}
              {...about}
              report={report}
              revision={null}
              decision={decisions.find((one) => isOf(one, report))}
            />
          ))}
        </details>
      )}
    </section>
  )
}

/** A decision belongs to the period it was made in: changed arms are another test. */
const isOf = ({ report: decided }: TestDecision, report: ExperimentReport): boolean =>
  decided.step === report.step && decided.versions.some((one) => report.versions.includes(one))
