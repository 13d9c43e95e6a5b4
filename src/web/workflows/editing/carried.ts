import {
  clippingText,
  readClipping,
  clippingWithOwnLotteries,
  type Clipping,
} from '../../../core/workflow/clipping.ts'
import { newLottery } from '../newSteps.ts'

const KEY = 'yomble.carried'

/**
 * Keeps what was copied or cut for pasting by a button, here or in another workflow and window; returns it
 * as text for the clipboard. Browsers let a page write the clipboard, but not read it unasked.
 */
export function carry(clipping: Clipping, cut: boolean): string {
  // Whatever is copied may be put into another workflow, where its experiments are others.
  const text = clippingText(cut ? clipping : clippingWithOwnLotteries(clipping, newLottery))
  try {
    localStorage.setItem(KEY, text)
  } catch {
    // A browser that keeps nothing for pages still has its clipboard.
  }
  return text
}

/** What was copied or cut last; null where nothing was. */
export function carried(): Clipping | null {
  const text = localStorage.getItem(KEY)
  return text === null ? null : readClipping(text)
}
