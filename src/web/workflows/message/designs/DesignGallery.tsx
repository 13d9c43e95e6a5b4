import { Pencil, Trash2 } from 'lucide-react'
import { useState, type FormEvent, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { KeptDesign } from '../../../../contract/messages.ts'
import type { Block } from '../../../../core/blocks/blocks.ts'
import { DESIGNS } from '../../../../core/designs/index.ts'
import { siteFor } from '../../../../core/messages/links.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { EmailStep } from '../../../../core/workflow/steps.ts'
import { subjectOf } from '../../../../core/workflow/trigger.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { ConfirmButton } from '../../../ui/fields/ConfirmButton.tsx'
import { TickField } from '../../../ui/fields/TickField.tsx'
import { MailPicture } from '../../../ui/mail/MailPicture.tsx'
import { usePreview } from '../../../ui/mail/usePreview.ts'
import { Sheet } from '../../../ui/Sheet.tsx'
import { previewInput, type Samples } from '../preview/useSamples.ts'
import type { Designs } from './useDesigns.ts'

/** A design as it is offered. */
export interface Offered {
  key: string
  name: string
  hint: string
  subject: string
  previewText: string
  blocks: Block[]
  /** The shop's own; null for those that come with Yomble. */
  own: KeptDesign | null
}

interface Props {
  definition: Definition
  message: EmailStep
  samples: Samples
  designs: Designs
  onTake: (design: Offered, keepsWords: boolean) => void
  onClose: () => void
}

/** Whole designs as pictures of what somebody would get, to begin with or to change to. */
export function DesignGallery(props: Props): ReactNode {
  const { definition, message, designs, onTake, onClose } = props
  const shop = useShop()
  const hasWords = (message.blocks ?? []).length > 0
  const [keepsWords, setKeepsWords] = useState(hasWords)
  const subject = subjectOf(definition.trigger)
  const site = siteFor(message, definition) ?? 'https://'
  const own = designs.all.map((design): Offered => ({
    ...design,
    key: design.id,
    hint: design.uses === 0 ? 'nothing is made of it' : `${design.uses} ${design.uses === 1 ? 'message is' : 'messages are'} made of it`,
    own: design,
  })) // prettier-ignore
  const ready = DESIGNS.map((design) => ({
    ...design,
    ...design.make({ name: shop.name, site }),
    own: null,
    fits: design.about.includes(subject),
  }))
  const cards = (all: readonly Offered[]) => (
    <ul className="flex flex-wrap gap-4">
      {all.map((design) => (
        <Card key={design.key} {...props} design={design} onTake={() => onTake(design, keepsWords)} />
      ))}
    </ul>
  ) // prettier-ignore
  const others = ready.filter(({ fits }) => !fits)
  return (
    <Sheet title="Designs" onClose={onClose}>
      {hasWords && (
        <TickField className="mb-4" checked={keepsWords} onChange={setKeepsWords}>
          Keep what is written here, where it fits
        </TickField>
      )}
      {own.length > 0 && (
        <section aria-label="Your own" className="mb-6">
          <h3 className="mb-2">Your own</h3>
          {cards(own)}
        </section>
      )}
      <section aria-label="Ready to begin with" className="mb-6">
        <h3 className="mb-2">Ready to begin with</h3>
        {cards(ready.filter(({ fits }) => fits))}
      </section>
      {others.length > 0 && (
        <section aria-label="Made for other triggers">
          <h3 className="mb-1">Made for other triggers</h3>
          <p className="mb-2 text-secondary">
            Some of their blocks have nothing to show in this workflow; the check says which.
          </p>
          {cards(others)}
        </section>
      )}
    </Sheet>
  )
}

const WIDTH = 252

function Card({
  definition,
  message,
  samples,
  designs,
  design,
  onTake,
}: Omit<Props, 'onTake'> & { design: Offered; onTake: () => void }): ReactNode {
  const { name, hint, subject, previewText, blocks, own } = design
  const shown: EmailStep = { ...message, format: 'designed', subject, previewText, blocks }
  const { preview } = usePreview(previewInput(definition, shown, samples.shown))
  return (
    <li className="panel flex flex-col overflow-hidden p-0" style={{ width: WIDTH }}>
      <button
        type="button"
        className="block cursor-pointer border-b border-base-300 text-left hover:opacity-85"
        aria-label={`Take ${name}`}
        onClick={onTake}
      >
        {preview?.html ? (
          <MailPicture html={preview.html} title={name} width={WIDTH - 2} height={300} />
        ) : (
          <span className="block h-[300px] p-4 text-secondary">
            {preview?.problem ? `It could not be shown: ${preview.problem}.` : 'Drawing it …'}
          </span>
        )}
      </button>
      <div className="flex items-start gap-1 px-3 py-2">
        <div className="min-w-0 flex-1">
          <p className="truncate font-medium">{name}</p>
          <p className="text-xs text-secondary">{hint}</p>
        </div>
        {own && <OwnTools design={own} designs={designs} />}
      </div>
    </li>
  )
}

function OwnTools({ design, designs }: { design: KeptDesign; designs: Designs }): ReactNode {
  const [name, setName] = useState<string | null>(null)
  const tell = (problem: unknown) => toast.error((problem as Error).message)
  const rename = (event: FormEvent) => {
    event.preventDefault()
    designs.rename(design.id, (name ?? '').trim()).then(() => setName(null), tell)
  }
  if (name !== null) {
    return (
      <form onSubmit={rename} className="flex gap-1">
        <input className="input input-xs w-24" aria-label="Its name" maxLength={80} value={name} onChange={(event) => setName(event.target.value)} />
        <button type="submit" className="btn btn-xs" disabled={name.trim() === ''}>Rename</button>
      </form>
    )
  }
  return (
    <span className="flex">
      <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label={`Rename ${design.name}`} title="Rename" onClick={() => setName(design.name)}>
        <Pencil size={13} aria-hidden="true" />
      </button>
      <ConfirmButton
        className="btn btn-ghost btn-xs btn-square"
        label={<Trash2 size={13} aria-hidden="true" />}
        ariaLabel={`Remove ${design.name}`}
        consequence="It is kept no longer. Messages that were made of it stay as they are."
        confirm="Remove it"
        onConfirm={() => void designs.remove(design.id).catch(tell)}
      />
    </span>
  )
} // prettier-ignore
