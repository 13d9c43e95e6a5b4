import type { Block } from '../../../../core/blocks/blocks.ts'
import { blocksSchema } from '../../../../core/blocks/blocks.ts'
import { messageFileSchema } from '../../../../core/designs/messageFile.ts'
import type { EmailStep } from '../../../../core/workflow/steps.ts'
import { htmlBlocks } from './htmlBlocks.ts'
import { mjmlBlocks } from './mjmlBlocks.ts'

/** What a file says a message is. */
export type ReadMessage = Pick<EmailStep, 'blocks'> &
  Partial<Pick<EmailStep, 'subject' | 'previewText' | 'translations'>>

/** Larger files are no messages. */
const MOST = 1_000_000

/** Reads a message from a file: JSON of ours, MJML, or HTML. Throws Error that says what is wrong with it. */
export function readMessage(text: string): ReadMessage {
  if (text.length > MOST) throw new Error('This is too large for a message: over a million characters.') // prettier-ignore
  if (text.trimStart().startsWith('{')) return readJson(text)
  const blocks = mjmlBlocks(text) ?? htmlBlocks(text)
  if (blocks.length === 0) throw new Error('There is nothing in it that could be shown.')
  return { blocks: fitting(blocks) }
}

/** The first that a message has room for; each as it may be. */
function fitting(blocks: readonly Block[]): Block[] {
  const { data, error } = blocksSchema.safeParse(blocks.slice(0, 60))
  if (!data) throw new Error(`It could not be made into blocks: ${error.issues[0]?.message ?? 'it is too long'}.`) // prettier-ignore
  return data
}

function readJson(text: string): ReadMessage {
  let document: unknown
  try {
    document = JSON.parse(text)
  } catch (error) {
    throw new Error(`This is no JSON: ${(error as Error).message}`, { cause: error })
  }
  const { data, error } = messageFileSchema.safeParse(document)
  if (!data) {
    const [issue] = error.issues
    throw new Error(`This is no message of Yomble: ${issue?.path.join('.') || 'it'} ${issue?.message ?? ''}`) // prettier-ignore
  }
  const { subject, previewText, blocks, translations } = data
  return { subject, previewText, blocks, translations }
}
