import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { samplesResponse, type Sample } from '../../../../contract/messages.ts'
import { couponBefore } from '../../../../core/check/flow/ways.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { MessageStep } from '../../../../core/workflow/steps.ts'
import type { Trigger } from '../../../../core/workflow/trigger.ts'
import { sendJson } from '../../../ui/data/api.ts'
import type { PreviewInput } from '../../../ui/mail/usePreview.ts'
import { useSettled } from '../../../ui/hooks/useSettled.ts'

export interface Samples {
  all: readonly Sample[]
  shown: Sample | null
  show: (sample: Sample) => void
  search: string
  onSearch: (search: string) => void
  /** Those listed are not yet of what is searched for. */
  isSearching: boolean
}

/** Those a message can be looked at for: whom the trigger concerned lately. */
export function useSamples(trigger: Trigger): Samples {
  const [shown, show] = useState<Sample | null>(null)
  const [search, setSearch] = useState('')
  const body = JSON.stringify({ trigger, search })
  const asked = useSettled(body, body)
  const { data, isPending, isPlaceholderData } = useQuery({
    queryKey: ['samples', asked],
    queryFn: ({ signal }) =>
      sendJson(
        'POST',
        '/api/messages/samples',
        samplesResponse,
        JSON.parse(asked) as object,
        signal,
      ),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  })
  return {
    all: data ?? [],
    shown: shown ?? data?.[0] ?? null,
    show,
    search,
    onSearch: setSearch,
    isSearching: isPending || isPlaceholderData || asked !== body,
  }
}

/** What is sent to look at a message or to test it. */
export function previewInput(
  definition: Definition,
  message: MessageStep,
  sample: Sample | null,
): PreviewInput {
  const { trigger } = definition
  return {
    trigger,
    // For whom it is sent is asked at its moment; here it is looked at.
    message: [message],
    sample: sample && {
      customerId: sample.customerId,
      subjectId: sample.subjectId,
      line: sample.line,
    },
    hasCoupon: couponBefore(definition, message.key) !== 'none',
  }
}
