import type { CSSProperties, ReactNode } from 'react'
import type { Block } from '../../../../core/blocks/blocks.ts'
import { LineField } from '../text/LineField.tsx'
import { RichField } from '../text/RichField.tsx'
import type { OnPaper } from '../text/TemplateEditor.tsx'
import { groundOf, type Box } from './marks.ts'

interface Props {
  block: Block
  onChange: (block: Block, touching?: string) => void
  /** The words on the message that it lies on. */
  words: HTMLElement
  box: Box
  /** Where it was pressed, to put the cursor there. */
  pressed: { x: number; y: number } | null
  onLeave: () => void
}

/** The words of a block, written where they stand and as they look there. */
export function PaperEditor({ block, onChange, words, box, pressed, onLeave }: Props): ReactNode {
  const onPaper: OnPaper = { style: lookOf(words), pressed, onLeave }
  return (
    <div
      className="pointer-events-auto absolute z-10"
      style={{ left: box.left, top: box.top, width: box.width, minHeight: box.height }}
    >
      <Words block={block} onChange={onChange} onPaper={onPaper} />
    </div>
  )
}

function Words({
  block,
  onChange,
  onPaper,
}: Pick<Props, 'block' | 'onChange'> & { onPaper: OnPaper }): ReactNode {
  switch (block.kind) {
    case 'coupon':
    case 'heading':
    case 'help':
      return <LineField label="Words" value={block.text} onPaper={onPaper} onChange={(text) => onChange({ ...block, text }, block.key)} />
    case 'text':
      return <RichField label="Text" value={block.text} onPaper={onPaper} onChange={(text) => onChange({ ...block, text }, block.key)} />
    case 'button':
    case 'tracking':
      return <LineField label="Words on the button" value={block.label} onPaper={onPaper} onChange={(label) => onChange({ ...block, label }, block.key)} />
    case 'columns':
    case 'divider':
    case 'html':
    case 'image':
    case 'items':
    case 'kept':
    case 'menu':
    case 'products':
    case 'social':
    case 'summary':
      return null
  }
} // prettier-ignore

const COPIED = ['fontFamily', 'fontSize', 'fontWeight', 'fontStyle', 'lineHeight', 'textAlign', 'color', 'padding', 'borderRadius'] as const // prettier-ignore

/** As the words look on the message: the frame has no styles in common with this page. */
function lookOf(words: HTMLElement): CSSProperties {
  // A heading's size is that of the line in it.
  const line = words.querySelector('h1, h2') ?? words
  const computed = getComputedStyle(line)
  const look = Object.fromEntries(COPIED.map((name) => [name, computed[name]]))
  const { paddingTop, paddingRight, paddingBottom, paddingLeft } = getComputedStyle(words)
  return {
    ...look,
    padding: `${paddingTop} ${paddingRight} ${paddingBottom} ${paddingLeft}`,
    background: groundOf(words),
  }
}
