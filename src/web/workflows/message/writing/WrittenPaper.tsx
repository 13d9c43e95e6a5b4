import { useState, type ReactNode } from 'react'
import { allBlocks, type Block, type BlockKind } from '../../../../core/blocks/blocks.ts'
import { MailFrame } from '../../../ui/mail/MailFrame.tsx'
import { ImageUpload } from '../../../ui/mail/ImageUpload.tsx'
import {
  insertBehind,
  moveBeside,
  moveBy,
  withBlock,
  withCopyOf,
  type Side,
} from '../blocks/blockEdits.ts'
import { BLOCK_KINDS, blockWords, fittedImage, newBlock } from '../blocks/blockKinds.ts'
import type { DesignWriting } from './designContext.ts'
import { DragOnPaper } from './DragOnPaper.tsx'
import { boxAround, wordsOf, type Box } from './marks.ts'
import { PaperEditor } from './PaperEditor.tsx'
import { isWritten, PaperTools } from './PaperTools.tsx'
import { usePaper, type Paper } from './usePaper.ts'

interface Props {
  html: string
  dark: boolean
  images: boolean
  className: string
  writing: DesignWriting
}

type Point = { x: number; y: number }

/** A message that is written on: a block is pressed, and its words are changed where they stand. */
export function WrittenPaper({ html, dark, images, className, writing }: Props): ReactNode {
  const { blocks, selected, select } = writing
  const [pressed, setPressed] = useState<Point | null>(null)
  const [isOpen, setIsOpen] = useState(false)
  const all = allBlocks(blocks)
  const find = (key: string | null): Block | undefined => all.find((block) => block.key === key)
  const edits = useEdits(writing)
  const write = (key: string | null, at: Point | null) => {
    select(key)
    setPressed(at)
    setIsOpen(key !== null)
  }
  const { setHost, ...paper } = usePaper({
    onPress: write,
    nameOf: (key) => nameOf(find(key)),
    onKey: (key, event) => {
      const act = actionOf(event)
      if (!act) return
      event.preventDefault()
      if (act === 'write') write(key, null)
      else edits[act](key)
      if (act !== 'write') paper.focusBlock(key)
    },
  })
  const block = find(selected)
  const box = block ? paper.boxOf(block.key) : null
  return (
    <div ref={setHost} className="relative flex min-h-0 flex-1 flex-col">
      <MailFrame html={html} dark={dark} images={images} className={className} onDrawn={paper.onDrawn} />
      <DragOnPaper paper={paper} blocks={blocks} find={find} onDrop={edits.moveBeside}>
        {paper.hovered !== null && paper.hovered !== selected && <Outline box={paper.boxOf(paper.hovered)} isFaint />}
        {block && box && (
          <>
            <Outline box={box} />
            <Words block={block} paper={paper} isOpen={isOpen} pressed={pressed} onChange={edits.change} onLeave={() => {
              setIsOpen(false)
              paper.focusBlock(block.key)
            }} />
            <div className="pointer-events-auto absolute z-20" style={toolsAt(box)}>
              <PaperTools
                blockKey={block.key}
                name={nameOf(block) ?? ''}
                kinds={edits.kindsAt(block.key)}
                onMove={(by) => edits.move(block.key, by)}
                onCopy={() => edits.copy(block.key)}
                onRemove={() => edits.remove(block.key)}
                onAdd={(kind, kept) => edits.add(block.key, kind, kept)}
              />
            </div>
          </>
        )}
      </DragOnPaper>
    </div>
  )
} // prettier-ignore

const nameOf = (block: Block | undefined): string | null =>
  block ? `${BLOCK_KINDS[block.kind].label}: ${blockWords(block)}` : null

/** Above the block, at its right; below its upper edge where there is no room above. */
const toolsAt = ({ left, top, width }: Box) => ({
  left: left + width,
  top: top < 34 ? top + 2 : top - 32,
  transform: 'translateX(-100%)',
})

function Outline({ box, isFaint }: { box: Box | null; isFaint?: boolean }): ReactNode {
  if (!box) return null
  return (
    <div
      aria-hidden="true"
      className={`absolute ${isFaint ? 'outline-1 outline-primary/50 outline-dashed' : 'outline-2 outline-primary'}`}
      style={box}
    />
  )
}

interface WordsProps {
  block: Block
  paper: Omit<Paper, 'setHost'>
  isOpen: boolean
  pressed: Point | null
  onChange: (block: Block, touching?: string) => void
  onLeave: () => void
}

function Words({ block, paper, isOpen, pressed, onChange, onLeave }: WordsProps): ReactNode {
  const { frame, host } = paper
  const document = frame?.contentDocument
  if (!frame || !document || !host) return null
  if (block.kind === 'image') {
    const box = paper.boxOf(block.key)
    if (!box) return null
    return (
      <div className="pointer-events-auto absolute z-10" style={{ left: box.left + 8, top: box.top + 8 }}>
        <ImageUpload onStored={({ url, width, height }) => onChange({ ...block, src: url, ...fittedImage(width, height) })} />
      </div>
    )
  }
  const words = isOpen && isWritten(block) ? wordsOf(document, block) : null
  const box = words && boxAround([words], frame, host)
  if (!words || !box) return null
  return (
    <PaperEditor key={block.key} block={block} words={words} box={box} pressed={pressed} onChange={onChange} onLeave={onLeave} />
  )
} // prettier-ignore

type Action = 'write' | 'up' | 'down' | 'copy' | 'remove'

/** What a key does with the block it is on; the same keys as in the list of blocks. */
function actionOf({ key, altKey, ctrlKey, metaKey }: KeyboardEvent): Action | null {
  if (altKey && key === 'ArrowUp') return 'up'
  if (altKey && key === 'ArrowDown') return 'down'
  if ((ctrlKey || metaKey) && key.toLowerCase() === 'd') return 'copy'
  if (altKey || ctrlKey || metaKey) return null
  if (key === 'Enter') return 'write'
  return key === 'Delete' || key === 'Backspace' ? 'remove' : null
}

/** Changes of the blocks by their keys, wherever they stand. */
function useEdits({ blocks, kinds, change, select }: DesignWriting) {
  const isNested = (key: string) => !blocks.some((block) => block.key === key)
  const move = (key: string, by: number) => change(moveBy(blocks, key, by))
  const copy = (key: string) => change(withCopyOf(blocks, key))
  return {
    change: (block: Block, touching?: string) =>
      change(withBlock(blocks, block.key, [block]), touching),
    move,
    up: (key: string) => move(key, -1),
    down: (key: string) => move(key, 1),
    moveBeside: (key: string, target: string, side: Side) =>
      change(moveBeside(blocks, key, target, side)),
    copy,
    remove: (key: string) => {
      change(withBlock(blocks, key, []))
      select(null)
    },
    add: (key: string, kind: BlockKind, kept?: string) => {
      const made = newBlock(blocks, kind)
      const block = (kept === undefined ? made : { ...made, kept }) as Block
      change(insertBehind(blocks, key, block))
      select(block.key)
    },
    /** In a column no columns stand. */
    kindsAt: (key: string) => (isNested(key) ? kinds.filter((kind) => kind !== 'columns') : kinds),
  }
}
