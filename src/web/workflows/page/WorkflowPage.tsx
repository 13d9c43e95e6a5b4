import { useCallback, useDeferredValue, useEffect, useState, type ReactNode } from 'react'
import { useLocation, useMatch, useParams } from 'react-router'
import { mayBuild, mayWrite } from '../../../contract/roles.ts'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { isMessage, type MessageStep } from '../../../core/workflow/steps.ts'
import { loaded, whenIdle } from '../../ui/loaded.tsx'
import { useSession } from '../../ui/data/shop.tsx'
import { Loading, Problem } from '../../ui/states.tsx'
import { isInInspector } from '../inspector/focus.ts'
import { FindingsStrip } from '../findings/FindingsStrip.tsx'
import { SaveNote } from '../draft/SaveNote.tsx'
import { TemplateLine, TemplateLines } from '../message/text/templateFields.tsx'
import { ShownProvider } from '../shownPart.ts'
import { sameSelection, selectedOf, type Selection } from '../selection.ts'
import { useDraft, type DraftActions } from '../draft/useDraft.ts'
import { useChanges } from '../versions/useChanges.ts'
import { useShow } from './useShow.ts'
import { useShownAs } from './useShownAs.ts'
import { useWorkflow } from './useWorkflow.ts'
import { WordsProvider } from '../../ui/data/words.tsx'
import { WorkflowHeader } from './WorkflowHeader.tsx'
import { WorkflowPlan } from './WorkflowPlan.tsx'

// With its text editor: nobody who only looks at a timetable waits for it.
const MessageEditor = loaded(
  async () => (await import('../message/MessageEditor.tsx')).MessageEditor,
  () => <Loading what="the message" />,
)

/** One workflow: its rules, its timetable, what is selected, and what the check found. */
export function WorkflowPage(): ReactNode {
  const { id = '' } = useParams()
  const { data, error, refetch } = useWorkflow(id)
  // Drawn without haste, what it needs besides is asked for only once it is on the screen.
  const workflow = useDeferredValue(data)
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (workflow?.id !== id) return <Loading what="the workflow" />
  return (
    <WordsProvider>
      <Editor key={id} workflow={workflow} />
    </WordsProvider>
  )
}

/** What another page has sent somebody here for, to begin with; the whole otherwise. */
function useAskedPlace(): Selection {
  const { state } = useLocation() as { state: { place?: Selection } | null }
  return state?.place ?? { kind: 'workflow' }
}

function Editor({ workflow }: { workflow: WorkflowResponse }): ReactNode {
  const draft = useDraft(workflow)
  const { definition, later, change, edit, undo, redo, flush, follow } = draft
  const { user } = useSession()
  const [chosen, setChosen] = useState<Selection>(useAskedPlace())
  const setSelection = useCallback(
    // The same object for the same thing: what is selected already need not be drawn anew.
    (to: Selection) => setChosen((before) => (sameSelection(before, to) ? before : to)),
    [],
  )
  const selection = selectedOf(chosen, definition)
  const mayEdit = mayBuild(user.role)
  useUndoKeys(draft)
  useEffect(() => whenIdle(fetchEditors), [])

  const [view, setView] = useShownAs()
  const changes = useChanges(workflow.live, later)
  const message = useOpenMessage(definition)
  const { show, showing } = useShow(workflow.id, setSelection, message?.key)

  return (
    <ShownProvider value={showing}>
      <div className="flex h-full flex-col gap-3 p-4 max-sm:h-auto">
        <WorkflowHeader
          workflow={workflow}
          definition={later}
          flush={flush}
          follow={follow}
          undo={draft.canUndo ? undo : undefined}
          redo={draft.canRedo ? redo : undefined}
          mayEdit={mayEdit}
          onSelect={setSelection}
          changes={changes.length}
          view={view}
          onView={setView}
          writing={message && (message.name || 'Unnamed message')}
        />
        <SaveNote
          save={draft.save}
          takeTheirs={draft.takeTheirs}
          keepMine={draft.keepMine}
          onShow={show}
        />
        {message ? (
          <MessageEditor
            key={message.key}
            workflow={workflow}
            definition={definition}
            message={message}
            onChange={change}
            mayEdit={mayWrite(user.role)}
          />
        ) : (
          <WorkflowPlan
            workflow={workflow}
            draft={draft}
            mayEdit={mayEdit}
            selection={selection}
            onSelect={setSelection}
            view={view}
            changes={changes}
          />
        )}
        <FindingsStrip
          id={workflow.id}
          definition={later}
          only={message?.key}
          onShow={show}
          onEdit={mayEdit ? edit : undefined}
        />
      </div>
    </ShownProvider>
  )
}

/** Has the text editors there by the time somebody looks at a message. */
function fetchEditors(): void {
  // What cannot be fetched now is asked for again, and told of, once it is to be shown.
  for (const editor of [TemplateLine, TemplateLines, MessageEditor]) editor.ahead().catch(() => {})
}

/** The message that is written on a screen of its own, if one is. */
function useOpenMessage({ steps }: Definition): MessageStep | undefined {
  const key = useMatch('/workflows/:id/messages/:step')?.params.step
  if (key === undefined) return undefined
  return allSteps(steps)
    .filter(isMessage)
    .find((step) => step.key === key)
}

function useUndoKeys({ undo, redo }: DraftActions): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
      event.preventDefault()
      // Whoever types on at once must find the field as it is by then.
      const from = isInInspector() ? 'both' : 'plan'
      if (event.shiftKey) redo(from)
      else undo(from)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [undo, redo])
}
