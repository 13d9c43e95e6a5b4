import { queryOptions } from '@tanstack/react-query'
import type { z } from 'zod'
import { combinationsResponse } from '../../../contract/counts.ts'
import type { SplitBranch } from '../../../core/workflow/steps.ts'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { sendJson } from '../../ui/data/api.ts'

/** What was ordered together in the last year, with the path of a split that each takes, and since when that is. */
export function countedCombinations(trigger: Trigger, branches: readonly SplitBranch[]) {
  const asked = { trigger, branches: branches.map(({ when }) => when) }
  return queryOptions({
    queryKey: ['combinations', JSON.stringify(asked)],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/conditions/combinations', combinationsResponse, asked, signal),
    staleTime: 60_000,
  })
}

/** The same without its time. */
export function combinationsOf(trigger: Trigger, branches: readonly SplitBranch[]) {
  return queryOptions({ ...countedCombinations(trigger, branches), select: onlyCombinations })
}

const onlyCombinations = ({ combinations }: z.infer<typeof combinationsResponse>) => combinations
