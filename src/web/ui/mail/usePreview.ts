import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { previewResponse, type Preview, type SampleRef } from '../../../contract/messages.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import type { MessageStep } from '../../../core/workflow/steps.ts'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { sendJson } from '../data/api.ts'

/** What a preview, or a test, is made of. */
export interface PreviewInput {
  trigger: Trigger
  message: [MessageStep]
  sample: SampleRef | null
  /** A brand that is being changed; left out: the shop's. */
  brand?: Brand
  hasCoupon: boolean
  /** Which of the message's languages; left out: that of the one it is for. */
  language?: string
  /** Merge fields as another system writes them. */
  tags?: string
  /** Blocks can be found again in the HTML. */
  marked?: boolean
}

/** A message as one person would get it, as it is written. */
export function usePreview(input: PreviewInput): {
  preview: Preview | undefined
  error: Error | null
} {
  const body = JSON.stringify(input)
  const [asked, ask] = useState(body)
  const { data, error, isFetching } = useQuery({
    queryKey: ['preview', asked],
    queryFn: () => sendJson('POST', '/api/messages/preview', previewResponse, JSON.parse(asked) as object), // prettier-ignore
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })
  // At once where nothing is asked for; else once that is answered, and what came in between is left out.
  if (!isFetching && asked !== body) ask(body)
  return { preview: data, error }
}
