import { queryOptions } from '@tanstack/react-query'
import { combinationsResponse } from '../../../contract/counts.ts'
import type { SplitBranch } from '../../../core/workflow/steps.ts'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { sendJson } from '../../ui/data/api.ts'

/** What was ordered together in the last year, with the path of a split that each takes. */
export function combinationsOf(trigger: Trigger, branches: readonly SplitBranch[]) {
  const asked = { trigger, branches: branches.map(({ when }) => when) }
  return queryOptions({
    queryKey: ['combinations', JSON.stringify(asked)],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/conditions/combinations', combinationsResponse, asked, signal),
    staleTime: 60_000,
  })
}
