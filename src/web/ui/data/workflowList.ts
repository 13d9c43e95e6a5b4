import { queryOptions } from '@tanstack/react-query'
import { z } from 'zod'
import { workflowListItem } from '../../../contract/workflows.ts'
import { getDated, queryOf } from './api.ts'

/** The workflows of the shop with their figures of so many days, and of which moment those are. One question for all who ask it. */
export const workflowList = (days: number) =>
  queryOptions({
    queryKey: ['workflows', days],
    queryFn: ({ signal }) =>
      getDated(`/api/workflows${queryOf({ days })}`, z.array(workflowListItem), signal),
  })
