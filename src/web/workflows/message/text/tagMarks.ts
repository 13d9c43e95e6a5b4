import { Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { Plugin } from '@tiptap/pm/state'
import { Decoration, DecorationSet } from '@tiptap/pm/view'

const TAG = /\{%.*?%\}/g

/** Sets Liquid's tags (conditions, loops) apart from the words that readers see. */
export const tagMarks = Extension.create({
  name: 'tagMarks',
  addProseMirrorPlugins: () => [
    new Plugin({ props: { decorations: ({ doc }) => DecorationSet.create(doc, tagsIn(doc)) } }),
  ],
})

function tagsIn(doc: Node): Decoration[] {
  const found: Decoration[] = []
  doc.descendants((node, at) => {
    for (const { index, 0: tag } of (node.text ?? '').matchAll(TAG)) {
      const from = at + index
      found.push(Decoration.inline(from, from + tag.length, { class: 'template-tag' }))
    }
  })
  return found
}
