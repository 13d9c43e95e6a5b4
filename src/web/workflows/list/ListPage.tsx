import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { z } from 'zod'
import { mayBuild } from '../../../contract/roles.ts'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { sendJson } from '../../ui/data/api.ts'
import { workflowList } from '../../ui/data/workflowList.ts'
import { AsOf } from '../../ui/figures/AsOf.tsx'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { useSession } from '../../ui/data/shop.tsx'
import { Loading, Outdated, Problem } from '../../ui/states.tsx'
import { focusInspector } from '../inspector/focus.ts'
import { blankDefinition } from '../newSteps.ts'
import { BulkBar } from './BulkBar.tsx'
import { labelsOf, shownWorkflows, SPANS, type ListView } from './listView.ts'
import { useListView } from './useListView.ts'
import { WorkflowTable } from './WorkflowTable.tsx'
import { TickField } from '../../ui/fields/TickField.tsx'

const NONE: WorkflowListItem[] = []

/** The list a marketer starts the day with. */
export function ListPage(): ReactNode {
  const [view, setView] = useListView()
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const { user } = useSession()
  const workflows = useQuery({
    ...workflowList(view.days),
    refetchInterval: 10_000,
    placeholderData: keepPreviousData,
  })
  const create = useNewWorkflow()
  const mayEdit = mayBuild(user.role)
  const all = workflows.data?.data ?? NONE
  const { search, label, byTrigger } = view
  const shown = useMemo(
    () => shownWorkflows(all, { search, label, byTrigger }),
    [all, search, label, byTrigger],
  )
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <PageHeading title="Workflows" />
        <Link to="/recipes" className="btn btn-sm ml-auto">
          Recipes
        </Link>
        {mayEdit && (
          <button
            type="button"
            className="btn btn-primary btn-sm"
            onClick={() => create.mutate()}
            disabled={create.isPending}
          >
            <Plus size={14} aria-hidden="true" /> New workflow
          </button>
        )}
      </div>
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Filters labels={labelsOf(all)} view={view} onChange={setView} />
        <AsOf at={workflows.data?.asOf ?? null} />
      </div>
      {create.error && <Problem error={create.error} />}
      {workflows.error && (
        <Problem error={workflows.error} retry={() => void workflows.refetch()} />
      )}
      {workflows.isPending && <Loading what="workflows" />}
      <BulkBar
        workflows={all.filter(({ id }) => chosen.has(id))}
        onDone={() => setChosen(new Set())}
      />
      {workflows.data && (
        <Outdated isOutdated={workflows.isPlaceholderData} doing="Counting">
          <WorkflowTable
            workflows={shown}
            view={view}
            onView={setView}
            chosen={mayEdit ? chosen : null}
            onChoose={setChosen}
          />
        </Outdated>
      )}
    </div>
  )
}

function useNewWorkflow() {
  const navigate = useNavigate()
  return useMutation({
    mutationFn: () =>
      sendJson('POST', '/api/workflows', z.object({ id: z.string() }), {
        definition: blankDefinition(),
      }),
    onSuccess: ({ id }) => {
      // It has no name yet: that is what comes first.
      focusInspector()
      return navigate(`/workflows/${id}`)
    },
  })
}

interface FiltersProps {
  labels: readonly string[]
  view: ListView
  onChange: (change: Partial<ListView>) => void
}

function Filters({ labels, view, onChange }: FiltersProps): ReactNode {
  return (
    <>
      {labels.length > 0 && (
        <div className="flex flex-wrap gap-1" role="group" aria-label="Labels">
          {labels.map((label) => (
            <button
              key={label}
              type="button"
              aria-pressed={view.label === label}
              className={`chip hover:bg-base-200 ${view.label === label ? 'border-primary bg-base-200 font-medium' : ''}`}
              onClick={() => onChange({ label: view.label === label ? null : label })}
            >
              {label}
            </button>
          ))}
        </div>
      )}
      <label className="ml-auto flex items-center gap-2 text-xs whitespace-nowrap">
        figures of the last
        <select
          className="select select-sm w-28"
          value={view.days}
          onChange={(event) => onChange({ days: Number(event.target.value) })}
        >
          {SPANS.map((days) => (
            <option key={days} value={days}>
              {days === 365 ? 'year' : `${days} days`}
            </option>
          ))}
        </select>
      </label>
      <TickField
        className="text-xs"
        checked={view.byTrigger}
        onChange={(checked) => onChange({ byTrigger: checked })}
      >
        by trigger, highest priority first
      </TickField>
      <input
        type="search"
        maxLength={100}
        className="input input-sm w-64"
        placeholder="Search name, trigger or label"
        aria-label="Search workflows"
        value={view.search}
        onChange={(event) => onChange({ search: event.target.value })}
      />
    </>
  )
}
