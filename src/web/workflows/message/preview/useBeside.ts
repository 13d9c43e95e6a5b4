import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import {
  versionListItem,
  versionResponse,
  type WorkflowResponse,
} from '../../../../contract/workflows.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import { isMessage, type MessageStep } from '../../../../core/workflow/steps.ts'
import { getJson } from '../../../ui/data/api.ts'

/** A message to look at beside the one that is written. */
export interface Beside {
  label: string
  definition: Definition
  /** Missing where that version has no such message. */
  message: MessageStep | undefined
}

export interface BesideChoice {
  /** Published versions of the workflow. */
  versions: number[]
  /** Other messages of the same kind in it, like those of the other arms of an experiment. */
  messages: MessageStep[]
  /** `version 3`, `step m1`, or empty for nothing beside. */
  chosen: string
  choose: (choice: string) => void
  beside: Beside | null
}

const messagesIn = ({ steps }: Definition): MessageStep[] => allSteps(steps).filter(isMessage)

/** What a message can be compared with: earlier versions of it, and its neighbours. */
export function useBeside(
  { id: workflowId, liveVersion }: Pick<WorkflowResponse, 'id' | 'liveVersion'>,
  definition: Definition,
  message: MessageStep,
): BesideChoice {
  const [chosen, choose] = useState('')
  const [kind, name = ''] = chosen.split(' ')
  const versions = useQuery({
    queryKey: ['versions', workflowId, liveVersion],
    queryFn: () => getJson(`/api/workflows/${workflowId}/versions`, z.array(versionListItem)),
  })
  const version = useQuery({
    queryKey: ['version', workflowId, Number(name)],
    queryFn: () => getJson(`/api/workflows/${workflowId}/versions/${name}`, versionResponse),
    enabled: kind === 'version',
    staleTime: Infinity,
  })
  const messages = messagesIn(definition).filter(
    (one) => one.kind === message.kind && one.key !== message.key,
  )
  return {
    versions: (versions.data ?? []).map((one) => one.version),
    messages,
    chosen,
    choose,
    beside: besideOf(),
  }

  function besideOf(): Beside | null {
    if (kind === 'step') {
      const other = messages.find(({ key }) => key === name)
      return other ? { label: other.name || 'Unnamed message', definition, message: other } : null
    }
    const before = kind === 'version' ? version.data?.definition : undefined
    if (!before) return null
    const same = messagesIn(before).find(({ key }) => key === message.key)
    return { label: `Version ${name}`, definition: before, message: same }
  }
}
