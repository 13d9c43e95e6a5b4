import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { toast } from 'sonner'
import { visitResponse, type VisitResponse } from '../../../contract/workflows.ts'
import { sendJson } from '../../ui/data/api.ts'
import type { DraftActions } from '../draft/useDraft.ts'

const ASK_EVERY_MS = 5_000

/** Names this window to the server for as long as it is open. */
const visit = [...crypto.getRandomValues(new Uint8Array(12))]
  .map((byte) => byte.toString(16).padStart(2, '0'))
  .join('')

/**
 * Who else has the workflow open. What they save is shown here as well, unless something here is
 * unsaved: then saving it says so, and nothing is overwritten.
 */
export function useOthers(
  workflowId: string,
  follow: DraftActions['follow'],
): VisitResponse['others'] {
  const path = `/api/workflows/${workflowId}/visit`
  const { data } = useQuery({
    queryKey: ['visit', workflowId],
    queryFn: () => sendJson('POST', path, visitResponse, { visit }),
    refetchInterval: ASK_EVERY_MS,
    gcTime: 0,
  })
  const revision = data?.draftRevision ?? 0
  useEffect(() => {
    follow(revision).then(
      (hasChanged) => {
        if (hasChanged) toast.info('Somebody else has changed this draft. You see it as it is now.')
        return undefined
      },
      // The server is away; the next answer tells again that there is something new.
      () => undefined,
    )
  }, [revision, follow])
  useEffect(() => {
    // Leaves the window even while it closes. Failing that, the others see it some seconds later.
    const body = new Blob([JSON.stringify({ visit })], { type: 'application/json' })
    const leave = () => navigator.sendBeacon(`${path}/end`, body)
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [path])
  return data?.others ?? []
}
