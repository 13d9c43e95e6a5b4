import { useQuery } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { z } from 'zod'
import {
  versionListItem,
  versionResponse,
  type VersionListItem,
  type WorkflowResponse,
} from '../../../contract/workflows.ts'
import { changesBetween } from '../../../core/words/changes.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { Time } from '../../ui/data/shop.tsx'
import { Loading, Problem } from '../../ui/states.tsx'
import type { Selection } from '../selection.ts'
import { useWords } from '../../ui/data/words.tsx'
import { ChangeList } from './ChangeList.tsx'

interface Props {
  workflow: WorkflowResponse
  definition: Definition
  onSelect: (selection: Selection) => void
  /** Missing for those who may only look. */
  onTake: ((definition: Definition) => void) | undefined
}

/** The published states of a workflow, what the draft changes of each, and the way back to it. */
export function VersionsPanel({ workflow, definition, onSelect, onTake }: Props): ReactNode {
  const { id, liveVersion } = workflow
  const versions = useQuery({
    queryKey: ['versions', id, liveVersion],
    queryFn: () => getJson(`/api/workflows/${id}/versions`, z.array(versionListItem)),
  })
  const [chosen, setChosen] = useState<number | null>(null)
  if (versions.error) {
    return <Problem error={versions.error} retry={() => void versions.refetch()} />
  }
  if (!versions.data) return <Loading what="the versions" />
  const compared = chosen ?? liveVersion ?? versions.data[0]?.version ?? null
  return (
    <>
      <h2 className="mb-1 text-lg">Versions</h2>
      {compared === null && (
        <p className="text-secondary">It has never been live. Going live makes version 1.</p>
      )}
      <ul className="mb-4 flex flex-col gap-1">
        {versions.data.map((version) => (
          <VersionRow
            key={version.version}
            version={version}
            isLive={version.version === liveVersion}
            isCompared={version.version === compared}
            onCompare={() => setChosen(version.version)}
          />
        ))}
      </ul>
      {compared !== null && (
        <Comparison
          key={compared}
          id={id}
          version={compared}
          definition={definition}
          onSelect={onSelect}
          onTake={onTake}
        />
      )}
    </>
  )
}

interface RowProps {
  version: VersionListItem
  isLive: boolean
  isCompared: boolean
  onCompare: () => void
}

function VersionRow({ version, isLive, isCompared, onCompare }: RowProps): ReactNode {
  return (
    <li>
      <button
        type="button"
        aria-pressed={isCompared}
        className={`w-full rounded-field border px-3 py-1.5 text-left hover:bg-base-200 ${isCompared ? 'border-primary bg-base-200' : 'border-base-300'}`}
        onClick={onCompare}
      >
        <span className="flex items-baseline gap-2">
          <span className="font-mono font-medium">v{version.version}</span>
          {isLive && <span className="text-xs text-primary">live</span>}
          <span className="ml-auto">
            <Time at={version.publishedAt} />
          </span>
        </span>
        <span className="block text-xs text-secondary">
          {version.publishedBy} · {plural(version.inProgress, 'run')} in progress
        </span>
      </button>
    </li>
  )
}

interface ComparisonProps extends Omit<Props, 'workflow'> {
  id: string
  version: number
}

function Comparison({ id, version, definition, onSelect, onTake }: ComparisonProps): ReactNode {
  const words = useWords()
  const published = useQuery({
    queryKey: ['version', id, version],
    queryFn: () => getJson(`/api/workflows/${id}/versions/${version}`, versionResponse),
    staleTime: Infinity,
  })
  const before = published.data?.definition
  const changes = useMemo(
    () => (before ? changesBetween(before, definition, words) : []),
    [before, definition, words],
  )
  if (published.error) {
    return <Problem error={published.error} retry={() => void published.refetch()} />
  }
  if (!before) return <Loading what={`version ${version}`} />
  return (
    <section aria-label={`What the draft changes of version ${version}`}>
      <h3 className="mb-1 font-medium">
        {changes.length === 0
          ? `The draft says the same as version ${version}.`
          : `The draft changes ${plural(changes.length, 'thing')} of version ${version}:`}
      </h3>
      <ChangeList changes={changes} onSelect={onSelect} />
      {onTake && changes.length > 0 && (
        <button type="button" className="btn btn-sm mt-3" onClick={() => onTake(before)}>
          Make the draft as version {version} was
        </button>
      )}
    </section>
  )
}
