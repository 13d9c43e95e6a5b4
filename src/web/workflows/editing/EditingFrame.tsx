import type { ClipboardEvent, KeyboardEvent, ReactNode, RefObject } from 'react'
import { toast } from 'sonner'
import { readClipping, type Clipping } from '../../../core/workflow/clipping.ts'
import { carry } from './carried.ts'
import { focusInspector } from '../inspector/focus.ts'
import type { Selection } from '../selection.ts'
import type { Editing } from './useEditing.ts'
import { useKeptFocus } from './useKeptFocus.ts'

interface Props {
  label: string
  frame: RefObject<HTMLDivElement | null>
  className: string
  /** Missing when the workflow is only to be read. */
  editing: Editing | undefined
  /** The id of what an arrow key leads to from an item. */
  neighbour: (id: string, arrow: string) => string | null
  /** The id of what stands before an item: what has the keyboard when the item is gone. */
  before: (id: string) => string | null
  /** Told which item has the keyboard or the pointer. */
  onHold?: ((id: string) => void) | undefined
  children: ReactNode
}

/** What an item on the timetable or a line of the outline tells the keys pressed on it. */
export const itemProps = (id: string, target: Selection | null) => ({
  'data-item': id,
  ...(target && { 'data-target': JSON.stringify(target) }),
})

/**
 * The keys of the timetable and the outline: arrows walk, Enter edits, "/" opens the list of what can
 * be added, Delete removes; cut, copy, paste and Ctrl+D as everywhere. Works on what has the focus.
 */
export function EditingFrame(props: Props): ReactNode {
  const { label, frame, className, editing, neighbour, before, onHold, children } = props

  const focus = useKeptFocus(frame, before)
  const inFrame = (selector: string) => frame.current?.querySelector<HTMLElement>(selector)
  const focusOn = (id: string | null) => {
    if (id !== null) inFrame(`[data-item="${CSS.escape(id)}"]`)?.focus()
  }

  const pasteAfter = (target: Selection, clipping: Clipping) => {
    editing?.pasteAfter(target, clipping)
    focus.follow()
  }

  const actions: Readonly<Record<Key, (at: Pressed, event: KeyboardEvent) => void>> = {
    arrow: ({ id }, event) => {
      const next = neighbour(id, event.key)
      if (next === null) return
      event.preventDefault()
      focusOn(next)
    },
    edit: () => focusInspector(),
    add: ({ id }, event) => {
      event.preventDefault()
      inFrame(`[data-after="${CSS.escape(id)}"]`)?.click()
    },
    remove: ({ id, target }, event) => {
      // Else the browser looks for something of its own to delete, which takes as long as a layout.
      event.preventDefault()
      if (!target || editing?.remove(target) !== true) return
      // Before it goes: a browser that has to look for the focus itself lays everything out twice.
      focusOn(before(id))
    },
    duplicate: ({ target }, event) => {
      event.preventDefault()
      const clipping = target && editing?.clip(target)
      if (clipping) pasteAfter(target, clipping)
    },
  }

  const onKeyDown = (event: KeyboardEvent) => {
    const key = keyOf(event)
    const item = itemOf(event.target)
    const id = item?.dataset['item']
    if (key && id !== undefined) actions[key]({ id, target: targetOf(item) }, event)
  }

  const onCopy = (event: ClipboardEvent, cut: boolean) => {
    const target = targetOf(itemOf(event.target))
    const clipping = target && editing?.clip(target)
    if (!target || !clipping) return
    event.preventDefault()
    event.clipboardData.setData('text/plain', carry(clipping, cut))
    if (cut) editing?.remove(target)
    toast.success(`${cut ? 'Cut' : 'Copied'} ${whatIs(clipping)}. Paste it after any step.`)
  }

  const onPaste = (event: ClipboardEvent) => {
    const target = targetOf(itemOf(event.target))
    if (!target || !editing) return
    const clipping = readClipping(event.clipboardData.getData('text/plain'))
    event.preventDefault()
    if (clipping) pasteAfter(target, clipping)
    else toast.error('There are no steps in the clipboard. Copy some first, here or elsewhere.')
  }

  const hold = ({ target }: { target: EventTarget }) => {
    const item = itemOf(target)
    const id = item?.dataset['item']
    if (id !== undefined) onHold?.(id)
    if (item) focus.note(item)
  }

  return (
    // Keys pressed on any item bubble up to here; the group itself takes no focus.
    <div
      ref={frame}
      className={className}
      role="group"
      aria-label={label}
      onKeyDown={onKeyDown}
      onCopy={(event) => onCopy(event, false)}
      onCut={(event) => onCopy(event, true)}
      onPaste={onPaste}
      onFocus={hold}
      onPointerDown={hold}
    >
      {children}
    </div>
  )
}

/** The item a key was pressed on. */
interface Pressed {
  id: string
  target: Selection | null
}

type Key = 'arrow' | 'edit' | 'add' | 'remove' | 'duplicate'

const KEYS: Readonly<Record<string, Key>> = {
  ArrowRight: 'arrow',
  ArrowLeft: 'arrow',
  ArrowUp: 'arrow',
  ArrowDown: 'arrow',
  Enter: 'edit',
  '/': 'add',
  Delete: 'remove',
  Backspace: 'remove',
}

function keyOf({ key, ctrlKey, metaKey }: KeyboardEvent): Key | undefined {
  if (ctrlKey || metaKey) return key.toLowerCase() === 'd' ? 'duplicate' : undefined
  return KEYS[key]
}

function whatIs(clipping: Clipping): string {
  if (clipping.kind === 'path') return `the path “${clipping.branch.name}”`
  const [step, ...others] = clipping.steps
  if (others.length > 0) return `${clipping.steps.length} steps`
  return step && 'name' in step && step.name !== '' ? `“${step.name}”` : 'a step'
}

function itemOf(node: EventTarget): HTMLElement | null {
  return node instanceof HTMLElement ? node.closest<HTMLElement>('[data-item]') : null
}

function targetOf(item: HTMLElement | null): Selection | null {
  const text = item?.dataset['target']
  return text === undefined ? null : (JSON.parse(text) as Selection)
}
