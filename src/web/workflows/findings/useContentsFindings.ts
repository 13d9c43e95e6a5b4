import { useQueries, type UseQueryResult } from '@tanstack/react-query'
import { useMemo } from 'react'
import { contentsFindings, contentsSplits } from '../../../core/check/flow/contentsFindings.ts'
import type { Finding } from '../../../core/check/finding.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { combinationsOf } from './combinations.ts'
import type { Combination } from '../../../contract/counts.ts'

/** What is found in splits by what was ordered, once the orders of the last year have been counted. */
export function useContentsFindings(settled: Definition | null): Finding[] {
  const splits = useMemo(() => (settled ? contentsSplits(settled) : []), [settled])
  const counted = useQueries({
    queries: splits.map(({ split, trigger }) => combinationsOf(trigger, split.branches)),
    combine: allData,
  })
  return useMemo(
    () =>
      splits.flatMap(({ split }, index) => {
        const combinations = counted[index]
        return combinations ? contentsFindings(split, combinations) : []
      }),
    [splits, counted],
  )
}

const allData = (results: UseQueryResult<Combination[]>[]) => results.map(({ data }) => data)
