import type { ReactNode } from 'react'
import type { KeptDesign } from '../../../../contract/messages.ts'
import type { Block } from '../../../../core/blocks/blocks.ts'
import { blockDifferences } from '../../../../core/designs/differences.ts'
import { takeOver } from '../../../../core/designs/takeOver.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { EmailStep } from '../../../../core/workflow/steps.ts'
import { MailPicture } from '../../../ui/mail/MailPicture.tsx'
import { usePreview } from '../../../ui/mail/usePreview.ts'
import { Sheet } from '../../../ui/Sheet.tsx'
import { previewInput, type Samples } from '../preview/useSamples.ts'

interface Props {
  definition: Definition
  message: EmailStep
  samples: Samples
  /** The design as it was when the message was made of it, and as it is now. */
  before: Pick<KeptDesign, 'blocks'>
  now: KeptDesign
  onTake: (blocks: Block[]) => void
  onClose: () => void
}

/** What a change of its design would make of a message: in words, and as two pictures side by side. */
export function TakeOver(props: Props): ReactNode {
  const { message, before, now, onTake, onClose } = props
  const mine = message.blocks ?? []
  const taken = takeOver(mine, before.blocks, now.blocks)
  const differences = blockDifferences(mine, taken)
  return (
    <Sheet title={`“${now.name}” has changed`} onClose={onClose}>
      <div className="flex flex-wrap gap-6">
        <div className="min-w-60 flex-1">
          <p className="mb-2">
            What you have written or styled in this message stays. The rest follows the design:
          </p>
          {differences.length === 0 ? (
            <p className="mb-3 text-secondary">Nothing of it shows in this message.</p>
          ) : (
            <ul className="mb-3 list-disc pl-5">
              {differences.map((sentence, index) => (
                <li key={`${index} ${sentence}`}>{sentence}</li>
              ))}
            </ul>
          )}
          <div className="flex gap-2">
            <button type="button" className="btn btn-primary btn-sm" onClick={() => onTake(taken)}>
              Take it over
            </button>
            <button type="button" className="btn btn-sm" onClick={onClose}>
              Leave it as it is
            </button>
          </div>
        </div>
        <Picture {...props} title="As it is" blocks={mine} />
        <Picture {...props} title="With the change" blocks={taken} />
      </div>
    </Sheet>
  )
}

function Picture({
  definition,
  message,
  samples,
  title,
  blocks,
}: Props & { title: string; blocks: readonly Block[] }): ReactNode {
  const shown = { ...message, blocks: [...blocks] }
  const { preview } = usePreview(previewInput(definition, shown, samples.shown))
  return (
    <figure className="panel overflow-hidden p-0">
      <figcaption className="border-b border-base-300 px-3 py-1 text-xs text-secondary">
        {title}
      </figcaption>
      <MailPicture html={preview?.html ?? ''} title={title} width={340} height={560} />
    </figure>
  )
}
