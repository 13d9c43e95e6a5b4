import { cleanup } from '@testing-library/react'
import { afterEach } from 'vitest'

// What jsdom has none of, for it draws nothing.
globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
Element.prototype.scrollIntoView = () => {}

// Enough for the ids that the tests look for.
globalThis.CSS = {
  escape: (text: string) => text.replaceAll(/[^\w-]/g, String.raw`\$&`),
} as typeof CSS

afterEach(cleanup)
