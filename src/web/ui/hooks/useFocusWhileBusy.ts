import { useEffect } from 'react'

/**
 * Gives the keyboard back to a button that was disabled while what it had begun was under way, unless
 * somebody has gone elsewhere meanwhile. Once for the whole page.
 */
export function useFocusWhileBusy(): void {
  useEffect(() => {
    let last: EventTarget | null = null
    const onFocus = ({ target }: FocusEvent) => {
      last = target
    }
    const onPress = () => {
      last = null
    }
    const changes = new MutationObserver((records) => {
      for (const { target } of records) {
        const isBack = target instanceof HTMLElement && !target.matches(':disabled')
        if (isBack && target === last && document.activeElement === document.body) target.focus()
      }
    })
    document.addEventListener('focusin', onFocus)
    // Whoever presses the empty page has left it; on the button itself the focus follows.
    document.addEventListener('pointerdown', onPress)
    changes.observe(document.body, { subtree: true, attributeFilter: ['disabled'] })
    return () => {
      document.removeEventListener('focusin', onFocus)
      document.removeEventListener('pointerdown', onPress)
      changes.disconnect()
    }
  }, [])
}
