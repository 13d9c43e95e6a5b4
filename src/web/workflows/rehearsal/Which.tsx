import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { useSearchParams } from 'react-router'
import { z } from 'zod'
import { versionListItem } from '../../../contract/workflows.ts'
import { getJson } from '../../ui/data/api.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'

const DRAFT: string = 'draft'

/** Which of its states is rehearsed: the draft, or a version as it was published. */
export function Which({ id, version }: { id: string; version: number | null }): ReactNode {
  const [params, setParams] = useSearchParams()
  const { data = [] } = useQuery({
    queryKey: ['versions', id],
    queryFn: () => getJson(`/api/workflows/${id}/versions`, z.array(versionListItem)),
  })
  if (data.length === 0) return null
  const choices: Record<string, string> = { [DRAFT]: 'the draft' }
  for (const one of data) choices[`v${one.version}`] = `version ${one.version}`
  return (
    <section className="panel px-4 pt-3" aria-label="Which state of the workflow">
      <ChoiceField
        label="Rehearsed is"
        value={version === null ? DRAFT : `v${version}`}
        choices={choices}
        onChange={(to) => {
          const next = new URLSearchParams(params)
          if (to === DRAFT) next.delete('version')
          else next.set('version', to.slice(1))
          setParams(next, { replace: true })
        }}
      />
    </section>
  )
}
