import { cleanup, configure } from '@testing-library/react'
import { toast } from 'sonner'
import { afterEach } from 'vitest'

// What jsdom has none of, for it draws nothing.
globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
Element.prototype.scrollIntoView = () => {}
const nowhere = document.createElement('div')
Range.prototype.getClientRects = () => nowhere.getClientRects()
Range.prototype.getBoundingClientRect = () => nowhere.getBoundingClientRect()
navigator.sendBeacon = () => true

// Enough for the ids that the tests look for.
globalThis.CSS = {
  escape: (text: string) => text.replaceAll(/[^\w-]/g, String.raw`\$&`),
} as typeof CSS

// A busy machine may take its time; nothing waits longer than it has to.
configure({ asyncUtilTimeout: 20_000 })

afterEach(() => {
  cleanup()
  // Files share what they import, and this is where toasts are kept.
  toast.dismiss()
})
