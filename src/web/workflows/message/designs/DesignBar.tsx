import { LayoutTemplate } from 'lucide-react'
import { useState, type FormEvent, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { Block } from '../../../../core/blocks/blocks.ts'
import { applyDesign } from '../../../../core/designs/applyDesign.ts'
import { sameDocument } from '../../../../core/shared/sameDocument.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { EmailStep } from '../../../../core/workflow/steps.ts'
import { ConfirmButton } from '../../../ui/fields/ConfirmButton.tsx'
import type { stepChanger } from '../../inspector/stepChange.ts'
import { ReadFile } from '../files/ReadFile.tsx'
import type { Samples } from '../preview/useSamples.ts'
import { DesignGallery, type Offered } from './DesignGallery.tsx'
import { TakeOver } from './TakeOver.tsx'
import { useDesignRevision, useDesigns, type Designs } from './useDesigns.ts'

interface Props {
  definition: Definition
  message: EmailStep
  samples: Samples
  change: ReturnType<typeof stepChanger<'email'>>
}

/** Which design a message is made of: another taken, this one kept, its changes taken over or put in. */
export function DesignBar(props: Props): ReactNode {
  const { message, change } = props
  const designs = useDesigns()
  const [shown, setShown] = useState<'gallery' | 'keep' | null>(null)
  const take = (design: Offered, keepsWords: boolean) => {
    const blocks = keepsWords ? applyDesign(message.blocks ?? [], design.blocks) : design.blocks
    const own = <Text extends 'subject' | 'previewText'>(text: Text) =>
      keepsWords && message[text].trim() !== '' ? message[text] : design[text]
    change({
      blocks,
      subject: own('subject'),
      previewText: own('previewText'),
      design: design.own ? { id: design.own.id, revision: design.own.revision } : undefined,
    })
    setShown(null)
  }
  return (
    <div className="mb-3 flex flex-wrap items-center gap-1 border-b border-base-300 pb-3">
      <button type="button" className="btn btn-sm" onClick={() => setShown('gallery')}>
        <LayoutTemplate size={14} aria-hidden="true" /> Designs
      </button>
      {(message.blocks ?? []).length > 0 && (
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          aria-expanded={shown === 'keep'}
          onClick={() => setShown(shown === 'keep' ? null : 'keep')}
        >
          Keep as a design
        </button>
      )}
      <ReadFile
        onRead={({ blocks, ...texts }) =>
          change({ blocks, design: undefined, ...(texts.subject !== undefined && texts) })
        }
      />
      {shown === 'keep' && <Keep {...props} designs={designs} onDone={() => setShown(null)} />}
      <MadeOf {...props} designs={designs} />
      {shown === 'gallery' && (
        <DesignGallery {...props} designs={designs} onTake={take} onClose={() => setShown(null)} />
      )}
    </div>
  )
}

const partsOf = ({ subject, previewText, blocks = [] }: EmailStep) => ({ subject, previewText, blocks }) // prettier-ignore

const tell = (problem: unknown) => toast.error((problem as Error).message)

function Keep({
  message,
  change,
  designs,
  onDone,
}: Props & { designs: Designs; onDone: () => void }): ReactNode {
  const [name, setName] = useState(message.name)
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    try {
      change({ design: await designs.keep({ name: name.trim(), ...partsOf(message) }) })
      toast.success(`Kept. “${name.trim()}” is among the designs of every message now.`)
      onDone()
    } catch (problem) {
      tell(problem)
    }
  }
  return (
    <form className="flex w-full gap-1" onSubmit={(event) => void submit(event)}>
      <input
        className="input input-sm min-w-0 flex-1"
        aria-label="The design’s name"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="btn btn-sm" disabled={name.trim() === ''}>
        Keep
      </button>
    </form>
  )
}

function MadeOf(props: Props & { designs: Designs }): ReactNode {
  const { message, change, designs } = props
  const [isOpen, setIsOpen] = useState(false)
  const before = useDesignRevision(message.design)
  const now = designs.all.find(({ id }) => id === message.design?.id)
  if (!before || !now) return null
  const isBehind = now.revision > before.revision
  const put = async () => {
    try {
      const design = await designs.change({ ...partsOf(message), id: now.id, name: now.name, revision: now.revision }) // prettier-ignore
      change({ design })
      toast.success(`“${now.name}” is changed. Other messages made of it are asked to take it over.`)
    } catch (problem) {
      tell(problem)
    }
  }
  const takeOver = (blocks: Block[]) => {
    change({ blocks, design: { id: now.id, revision: now.revision } })
    setIsOpen(false)
  }
  const isOwn = !sameDocument(before.blocks, message.blocks)
  return (
    <p className="flex w-full flex-wrap items-center gap-2 pt-1 text-xs text-secondary">
      <span>Made of “{now.name}”.</span>
      {isBehind && (
        <button type="button" className="btn btn-xs border-accent text-accent" onClick={() => setIsOpen(true)}>
          It has changed: see what that does here
        </button>
      )}
      {!isBehind && isOwn && (
        <ConfirmButton
          className="btn btn-xs"
          label="Change the design like this"
          consequence={othersWords(now.uses - 1)}
          confirm="Change it"
          onConfirm={() => void put()}
        />
      )}
      {isOpen && <TakeOver {...props} before={before} now={now} onTake={takeOver} onClose={() => setIsOpen(false)} />}
    </p>
  )
} // prettier-ignore

const othersWords = (others: number): string =>
  others <= 0
    ? 'The design becomes what this message is now. No other message is made of it.'
    : `The design becomes what this message is now. ${others} other ${others === 1 ? 'message is' : 'messages are'} asked to take it over; none changes by itself.`
