import { mergeAttributes, Node, nodeInputRule, nodePasteRule } from '@tiptap/core'
import { FORMATS } from '../../../../core/messages/formats.ts'
import { findMergeField, templateParts } from '../../../../core/messages/mergeFields.ts'

/** What a merge field is called, and what stands in its place where it is unknown. */
export function chipOf(tag: string): { label: string; isKnown: boolean } {
  const [part] = templateParts(tag)
  if (typeof part !== 'object') return { label: tag, isKnown: false }
  const field = findMergeField(part.key)
  const fallback = part.fallback === null || part.fallback === '' ? '' : `, or “${part.fallback}”`
  const format = FORMATS[field?.formats ?? 'day'].find(({ key }) => key === part.format)
  const how = format ? `, ${format.label}` : ''
  return { label: `${field?.label ?? part.key}${how}${fallback}`, isKnown: field !== undefined }
}

const tagOfMatch = ([tag]: readonly string[]) => ({ tag })

interface MergeFieldOptions {
  /** What a field says for somebody, by its key, or its key and format; null where chips bear names. */
  valueOf: ((key: string) => string | undefined) | null
}

/** What stands in the place of a tag for somebody: the value, else the fallback. */
function valueIn(tag: string, valueOf: NonNullable<MergeFieldOptions['valueOf']>): string | null {
  const [part] = templateParts(tag)
  if (typeof part !== 'object') return null
  const { key, format, fallback } = part
  const written = format === null ? undefined : valueOf(`${key} as ${format}`)
  return written ?? valueOf(key) ?? fallback
}

/** A merge field in a text: a chip that is moved and removed as a whole. */
export const mergeFieldNode = Node.create<MergeFieldOptions>({
  name: 'mergeField',
  addOptions: () => ({ valueOf: null }),
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ tag: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-merge-field]',
      getAttrs: (element) => ({ tag: element.getAttribute('data-merge-field') ?? '' }),
    },
  ],
  renderHTML({ node, HTMLAttributes }) {
    const tag = String(node.attrs['tag'])
    const { label, isKnown } = chipOf(tag)
    const { valueOf } = this.options
    const value = valueOf && valueIn(tag, valueOf)
    return [
      'span',
      mergeAttributes(HTMLAttributes, {
        'data-merge-field': tag,
        title: value === null ? tag : label,
        class: `merge-field ${isKnown ? '' : 'merge-field-unknown'}`,
      }),
      value ?? label,
    ]
  },
  renderText: ({ node }) => String(node.attrs['tag']),
  // Those who know the tags type or paste them.
  addInputRules() {
    return [nodeInputRule({ find: /\{\{[^{}]*\}\}$/, type: this.type, getAttributes: tagOfMatch })]
  },
  addPasteRules() {
    return [nodePasteRule({ find: /\{\{[^{}]*\}\}/g, type: this.type, getAttributes: tagOfMatch })]
  },
})
