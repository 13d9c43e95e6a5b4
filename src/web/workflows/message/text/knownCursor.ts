import { Extension } from '@tiptap/core'
import { Plugin } from '@tiptap/pm/state'

/**
 * Has the editor hear where the cursor is before it takes a key. The browser tells of a moved cursor
 * with its next frame only: on a busy page, Enter right after a click would go where the cursor was.
 */
export const knownCursor = Extension.create({
  name: 'knownCursor',
  addProseMirrorPlugins: () => [
    new Plugin({
      props: {
        handleDOMEvents: {
          keydown: ({ dom }, { isComposing }) => {
            if (!isComposing) dom.ownerDocument.dispatchEvent(new Event('selectionchange'))
            return false
          },
        },
      },
    }),
  ],
})
