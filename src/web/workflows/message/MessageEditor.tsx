import { ArrowLeft, Send } from 'lucide-react'
import { useEffect, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { testResponse } from '../../../contract/messages.ts'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { couponBefore } from '../../../core/check/flow/ways.ts'
import { blockFits } from '../../../core/messages/blockFits.ts'
import type { Block, BlockKind } from '../../../core/blocks/blocks.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { updateStep } from '../../../core/workflow/edit.ts'
import type { Translated } from '../../../core/messages/languages.ts'
import { type MessageStep, isMail, isToCustomer } from '../../../core/workflow/steps.ts'
import { sendJson } from '../../ui/data/api.ts'
import { useBeginHere } from '../../ui/PageHeading.tsx'
import { holds, useSelectedBlock, useShownPart } from '../shownPart.ts'
import { scopeOfTrigger, ScopeProvider } from '../../ui/conditions/scope.ts'
import { NoteForm, SmsForm } from '../inspector/forms/MessageForms.tsx'
import { Part } from '../Part.tsx'
import { stepChanger, type StepOf } from '../inspector/stepChange.ts'
import { BlockForm } from './blocks/BlockForm.tsx'
import { BlockList } from './blocks/BlockList.tsx'
import { BLOCK_KINDS } from './blocks/blockKinds.ts'
import { SavedProvider, useKeptBlocks } from './blocks/keptBlocks.ts'
import { DesignBar } from './designs/DesignBar.tsx'
import { EnvelopeForm, SubjectForm } from './EnvelopeForm.tsx'
import { CompareSelect } from './preview/CompareSelect.tsx'
import { PreviewPane } from './preview/PreviewPane.tsx'
import { usePreview, type PreviewInput } from '../../ui/mail/usePreview.ts'
import { SaveAs } from './files/SaveAs.tsx'
import { useBeside } from './preview/useBeside.ts'
import { previewInput, useSamples, type Samples } from './preview/useSamples.ts'
import { FieldProvider } from './text/fieldContext.ts'
import { useFieldChoice } from './text/FieldValues.tsx'
import { LanguageBar } from './languages/LanguageBar.tsx'
import { useLanguage, type InLanguage } from './languages/useLanguage.ts'
import { LinesField } from './text/LinesField.tsx'
import { DesignProvider, useDesign, type DesignWriting } from './writing/designContext.ts'

interface Props {
  workflow: Pick<WorkflowResponse, 'id' | 'liveVersion'>
  definition: Definition
  message: MessageStep
  onChange: (to: Definition, touching?: string) => void
  mayEdit: boolean
}

/** One message: what it is made of, and beside it what somebody gets, in the language it is written in just now. */
export function MessageEditor(props: Props): ReactNode {
  const { definition, message, onChange } = props
  const seen = useLanguage(definition, message, onChange)
  return (
    <Desk
      {...props}
      definition={seen.definition}
      message={seen.message}
      onChange={seen.onChange}
      whole={props}
      seen={seen}
    />
  )
}

type DeskProps = Props & {
  /** The message with all its languages. */
  whole: Props
  seen: InLanguage
}

function Desk(props: DeskProps): ReactNode {
  const { workflow, definition, message, mayEdit, whole, seen } = props
  const { trigger } = definition
  const heading = useBeginHere<HTMLHeadingElement>()
  useShownPart(message.key)
  const writing = useWriting(props)
  const samples = useSamples(trigger)
  const asked = {
    ...previewInput(whole.definition, whole.message, samples.shown),
    ...(seen.languages.length > 1 && { language: seen.language }),
  }
  const input = writing && mayEdit ? { ...asked, marked: true } : asked
  const { preview, error } = usePreview(input)
  const saved = useKeptBlocks()
  const choice = useBeside(workflow, whole.definition, whole.message)
  const fields = useFieldChoice(definition, message, preview?.fields, !mayEdit)
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="-mt-2 flex items-center gap-1">
        <Link className="btn btn-ghost btn-sm -ml-3" to={`/workflows/${workflow.id}`}>
          <ArrowLeft size={15} aria-hidden="true" /> Back to the timetable
        </Link>
        <span className="text-secondary" aria-hidden="true">
          /
        </span>
        <h2 ref={heading} tabIndex={-1} className="ml-2 truncate text-base">
          {message.name || 'Unnamed message'}
        </h2>
      </div>
      <FieldProvider value={fields}>
        <SavedProvider value={saved}>
          <div className="flex min-h-0 flex-1 gap-3">
            <fieldset
              disabled={!mayEdit}
              aria-label="The message"
              className="panel w-[430px] min-w-0 shrink-0 overflow-x-hidden overflow-y-auto p-4"
            >
              <ScopeProvider value={scopeOfTrigger(trigger)}>
                <DesignProvider value={writing}>
                  {isToCustomer(whole.message) && (
                    <LanguageBar
                      step={whole.message}
                      seen={seen}
                      onChange={(translations) =>
                        whole.onChange(withTranslations(whole, translations))
                      }
                    />
                  )}
                  <Form key={seen.language} {...props} samples={samples} />
                </DesignProvider>
              </ScopeProvider>
            </fieldset>
            <PreviewPane
              message={message}
              preview={preview}
              error={error}
              samples={samples}
              writing={mayEdit ? writing : null}
              beside={choice.beside}
              compare={<CompareSelect choice={choice} />}
            >
              {isMail(message) && <SaveAs input={asked} preview={preview} />}
              {mayEdit && isMail(message) && <TestButton input={asked} />}
            </PreviewPane>
          </div>
        </SavedProvider>
      </FieldProvider>
    </div>
  )
}

const withTranslations = (
  { definition, message }: Props,
  translations: Translated['translations'],
): Definition =>
  updateStep(definition, message.key, (step) => {
    const { translations: _before, ...rest } = step as Translated
    return translations ? { ...rest, translations } : rest
  })

function Form({ message, ...form }: Props & { samples: Samples }): ReactNode {
  const parts = { definition: form.definition, onChange: form.onChange }
  // Removing a message is done where it can be seen among the others.
  switch (message.kind) {
    case 'sms':
      return <SmsForm {...parts} step={message} />
    case 'note':
      return <NoteForm {...parts} step={message} />
    case 'email':
      return <EmailForm {...form} step={message} />
  }
}

function EmailForm({
  step: message,
  samples,
  ...form
}: Pick<Props, 'definition' | 'onChange'> & {
  step: StepOf<'email'>
  samples: Samples
}): ReactNode {
  const parts = { definition: form.definition, onChange: form.onChange }
  return (
    <>
      <SubjectForm {...parts} step={message} />
      <EnvelopeForm {...parts} step={message} />
      {message.format === 'designed' ? (
        <>
          <DesignBar
            definition={form.definition}
            message={message}
            samples={samples}
            change={stepChanger<'email'>(parts, message)}
          />
          <Design />
        </>
      ) : (
        <Part kind="text">
          <LinesField
            label="Text"
            className="min-h-96"
            value={message.body}
            onChange={(body) => stepChanger<'email'>(parts, message)({ body }, 'body')}
          />
        </Part>
      )}
    </>
  )
}

function Design(): ReactNode {
  const writing = useDesign()
  useShown(writing?.selected ?? null)
  if (!writing) return null
  const { blocks, kinds, change, selected, select } = writing
  return (
    <BlockList
      blocks={blocks}
      all={blocks}
      kinds={kinds}
      open={blocks.find((block) => holds(block, selected))?.key ?? null}
      onOpen={select}
      empty="Nothing here yet. A heading and a text are a good start."
      onChange={change}
      Form={BlockForm}
    />
  )
}

/** Brings the block that is open into sight: it may have been pressed on the message. */
function useShown(block: string | null): void {
  useEffect(() => {
    if (block === null) return
    const card = document.querySelector(`[data-block=${JSON.stringify(block)}]`)
    card?.closest('li')?.scrollIntoView({ block: 'nearest' })
  }, [block])
}

/** The blocks of a designed email, to be written in their list and on the message; null for other messages. */
function useWriting({ definition, onChange, message }: Props): DesignWriting | null {
  const step = message.kind === 'email' && message.format === 'designed' ? message : null
  const blocks = step?.blocks ?? NO_BLOCKS
  const [selected, select] = useSelectedBlock(blocks)
  const hasCoupon = couponBefore(definition, message.key) !== 'none'
  if (!step) return null
  const change = stepChanger<'email'>({ definition, onChange }, step)
  return {
    blocks,
    // What is kept is offered by its name.
    kinds: (Object.keys(BLOCK_KINDS) as BlockKind[]).filter(
      (kind) => kind !== 'kept' && blockFits(kind, definition.trigger, hasCoupon),
    ),
    change: (to, touching) => change({ blocks: to }, touching),
    selected,
    select,
  }
}

const NO_BLOCKS: readonly Block[] = []

function TestButton({ input }: { input: PreviewInput }): ReactNode {
  const [isSending, setIsSending] = useState(false)
  const send = async () => {
    setIsSending(true)
    try {
      const { to } = await sendJson('POST', '/api/messages/test', testResponse, input)
      toast.success(`Sent to ${to}.`)
    } catch (problem) {
      toast.error((problem as Error).message)
    } finally {
      setIsSending(false)
    }
  }
  return (
    <button
      type="button"
      className="btn btn-primary btn-xs"
      disabled={isSending}
      onClick={() => void send()}
    >
      <Send size={13} aria-hidden="true" /> Send me a test
    </button>
  )
}
