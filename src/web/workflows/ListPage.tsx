import { useMutation, useQuery } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { z } from 'zod'
import { workflowListItem, type WorkflowListItem } from '../../contract/workflows.ts'
import { getJson, sendJson } from '../ui/api.ts'
import { Time, useSession } from '../ui/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { blankDefinition } from './newSteps.ts'
import { StateChip } from './StateChip.tsx'

/** The list a marketer starts the day with. */
export function ListPage(): ReactNode {
  const [search, setSearch] = useState('')
  const { user } = useSession()
  const workflows = useQuery({
    queryKey: ['workflows'],
    queryFn: () => getJson('/api/workflows', z.array(workflowListItem)),
    refetchInterval: 10_000,
  })
  const create = useNewWorkflow()
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <div className="mb-3 flex items-center gap-3">
        <h1 className="text-xl">Workflows</h1>
        <input
          type="search"
          className="input input-sm ml-auto w-64"
          placeholder="Search name or trigger"
          aria-label="Search workflows"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        {user.role === 'marketer' && (
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
      {create.error && <Problem error={create.error} />}
      {workflows.error && (
        <Problem error={workflows.error} retry={() => void workflows.refetch()} />
      )}
      {workflows.isPending && <Loading what="workflows" />}
      {workflows.data && (
        <WorkflowTable workflows={matching(workflows.data, search)} searching={search !== ''} />
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
    onSuccess: ({ id }) => navigate(`/workflows/${id}`),
  })
}

function matching(workflows: readonly WorkflowListItem[], search: string): WorkflowListItem[] {
  const wanted = search.trim().toLowerCase()
  return workflows
    .filter(({ name, description, startsWhen }) =>
      `${name} ${description} ${startsWhen}`.toLowerCase().includes(wanted),
    )
    .toSorted((a, b) => a.name.localeCompare(b.name))
}

const HEADS = [
  'Workflow',
  'Starts when',
  'State',
  'In progress',
  'Next step due',
  'Entered',
  'Sent',
  'Skipped',
  'Left',
] as const
const FIGURE_COLUMNS_FROM = 3

function WorkflowTable({
  workflows,
  searching,
}: {
  workflows: WorkflowListItem[]
  searching: boolean
}): ReactNode {
  if (workflows.length === 0) {
    return (
      <div className="panel">
        <Empty
          title={searching ? 'No workflow has that in its name or trigger.' : 'No workflows yet.'}
        >
          {searching ? null : 'Make the first one with “New workflow”.'}
        </Empty>
      </div>
    )
  }
  return (
    <div className="panel overflow-x-auto">
      <table className="table table-sm">
        <thead>
          <tr>
            {HEADS.map((head, index) => (
              <th
                key={head}
                scope="col"
                className={index >= FIGURE_COLUMNS_FROM ? 'text-right' : ''}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {workflows.map((workflow) => (
            <WorkflowRow key={workflow.id} workflow={workflow} />
          ))}
        </tbody>
      </table>
    </div>
  )
}

function WorkflowRow({ workflow }: { workflow: WorkflowListItem }): ReactNode {
  const { id, name, description, startsWhen, numbers } = workflow
  return (
    <tr className="hover:bg-base-200">
      <td className="max-w-80">
        <Link to={`/workflows/${id}`} className="font-medium hover:underline">
          {name || 'Unnamed workflow'}
        </Link>
        <div className="truncate text-xs text-secondary" title={description}>
          {description}
        </div>
      </td>
      <td className="max-w-60 text-xs">{startsWhen}</td>
      <td>
        <div className="flex flex-wrap gap-1">
          <StateChip state={workflow.state} version={workflow.liveVersion} />
          {workflow.hasUnpublishedChanges && <span className="chip">draft differs</span>}
          <FindingsChip workflow={workflow} />
        </div>
      </td>
      <td className="text-right font-mono text-xs">{numbers.inProgress}</td>
      <td className="text-right">
        {numbers.nextDueAt === null ? '–' : <Time at={numbers.nextDueAt} />}
      </td>
      <td className="text-right font-mono text-xs">{numbers.entered}</td>
      <td className="text-right font-mono text-xs">{numbers.sent}</td>
      <td className="text-right font-mono text-xs">{numbers.skipped}</td>
      <td className="text-right font-mono text-xs">{numbers.left}</td>
    </tr>
  )
}

function FindingsChip({
  workflow: { findings, numbers },
}: {
  workflow: WorkflowListItem
}): ReactNode {
  const parts = [
    numbers.needAttention > 0 ? `${numbers.needAttention} to look at` : '',
    findings.errors > 0 ? `${findings.errors} to fix` : '',
    findings.warnings > 0 ? `${findings.warnings} to consider` : '',
  ].filter((part) => part !== '')
  if (parts.length === 0) return null
  return <span className="chip border-accent text-accent">{parts.join(', ')}</span>
}
