import type { KeyboardEvent } from 'react'

/** Puts the cursor into the inspector's first field, once it shows what has just been selected. */
export function focusInspector(): void {
  requestAnimationFrame(() => {
    const inspector = document.querySelector('[data-inspector]')
    if (inspector?.ariaBusy === 'true') focusInspector()
    else inspector?.querySelector<HTMLElement>(FIELD)?.focus()
  })
}

const FIELD = ':is(input, select, textarea):not(:disabled), [contenteditable="true"]'

/** True while somebody is in one of the inspector's fields. */
export function isInInspector(): boolean {
  return Boolean(document.activeElement?.closest('[data-inspector]'))
}

/** From a field back to what is selected on the timetable. */
export function leaveOnEscape(event: KeyboardEvent): void {
  if (event.key !== 'Escape') return
  document.querySelector<HTMLElement>('[data-item][aria-pressed="true"]')?.focus()
}
