import { createContext, useContext, useEffect, useState } from 'react'
import type { Block } from '../../core/blocks/blocks.ts'
import type { MessagePart } from '../../core/workflow/templates.ts'

/** A part of a message that is to be looked at, until it has the cursor. */
export interface ShownPart {
  /** The message's key. */
  step: string
  part: MessagePart
}

interface Showing {
  shown: ShownPart | null
  done: () => void
}

const ShownContext = createContext<Showing>({ shown: null, done: () => {} })

export const ShownProvider = ShownContext.Provider

/** Puts the cursor on the part that is to be looked at, once the form of its message is there. */
export function useShownPart(step: string | null): void {
  const { shown, done } = useContext(ShownContext)
  useEffect(() => {
    if (shown?.step !== step) return
    const at = document.querySelector<HTMLElement>(selectorOf(shown.part))
    // The screen with the blocks is on its way.
    if (!at && shown.part.kind === 'block') return
    const folded = at?.closest('details')
    if (folded) folded.open = true
    at?.focus({ preventScroll: true })
    at?.scrollIntoView({ block: 'center' })
    done()
  }, [shown, step, done])
}

/** The block that is open: one somebody has chosen, or that is to be looked at; also within columns. */
export function useSelectedBlock(blocks: readonly Block[]) {
  const { shown } = useContext(ShownContext)
  const [selected, select] = useState<string | null>(null)
  const [seen, setSeen] = useState<ShownPart | null>(null)
  if (shown !== seen) {
    setSeen(shown)
    const wanted = shown?.part.kind === 'block' ? shown.part.key : null
    if (blocks.some((block) => holds(block, wanted))) select(wanted)
  }
  return [selected, select] as const
}

/** True for a block, and for columns with it in them. */
export const holds = (block: Block, key: string | null): boolean =>
  block.key === key ||
  (block.kind === 'columns' && block.columns.flat().some((inner) => inner.key === key))

function selectorOf(part: MessagePart): string {
  if (part.kind === 'block') return `[data-block=${JSON.stringify(part.key)}]`
  return `[data-part="${part.kind}"] :is(input, select, textarea, [contenteditable])`
}
