import { cleanup } from '@testing-library/react'
import { afterEach } from 'vitest'

// What jsdom has none of, for it draws nothing.
globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
Element.prototype.scrollIntoView = () => {}

afterEach(cleanup)
