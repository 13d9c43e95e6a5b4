import type { JSONContent } from '@tiptap/core'
import type { Paragraph, Styled } from '../../../../core/blocks/blocks.ts'

const TAG = /(\{\{[^{}]*\}\}|\n)/

/** Text with merge fields, and lines, as the editor's nodes. */
function inlineNodes({ text, bold, italic, href }: Styled): JSONContent[] {
  const marks = [
    ...(bold ? [{ type: 'bold' }] : []),
    ...(italic ? [{ type: 'italic' }] : []),
    ...(href === undefined ? [] : [{ type: 'link', attrs: { href } }]),
  ]
  const marked = marks.length > 0 ? { marks } : {}
  return text
    .split(TAG)
    .filter((part) => part !== '')
    .map((part) => {
      if (part === '\n') return { type: 'hardBreak' }
      if (part.startsWith('{{')) return { type: 'mergeField', attrs: { tag: part }, ...marked }
      return { type: 'text', text: part, ...marked }
    })
}

const paragraphNode = (run: readonly Styled[]): JSONContent => ({
  type: 'paragraph',
  content: run.flatMap(inlineNodes),
})

/** The paragraphs of a text block as a document of the editor. */
export function docOf(paragraphs: readonly Paragraph[]): JSONContent {
  const content = paragraphs.map((one) =>
    one.kind === 'paragraph'
      ? paragraphNode(one.text)
      : {
          type: one.ordered ? 'orderedList' : 'bulletList',
          content: one.items.map((item) => ({ type: 'listItem', content: [paragraphNode(item)] })),
        },
  )
  return { type: 'doc', content: content.length === 0 ? [{ type: 'paragraph' }] : content }
}

/** A document of the editor as the paragraphs of a text block. Lists within lists become one. */
export function paragraphsOf(doc: JSONContent): Paragraph[] {
  return (doc.content ?? []).map((node) => {
    if (node.type !== 'bulletList' && node.type !== 'orderedList') {
      return { kind: 'paragraph', text: runOf(node) }
    }
    return { kind: 'list', ordered: node.type === 'orderedList', items: itemsOf(node) }
  })
}

function itemsOf(list: JSONContent): Styled[][] {
  return (list.content ?? []).flatMap((item) =>
    (item.content ?? []).flatMap((node) =>
      node.type === 'paragraph' ? [runOf(node)] : itemsOf(node),
    ),
  )
}

function runOf(paragraph: JSONContent): Styled[] {
  const run: Styled[] = []
  for (const node of paragraph.content ?? []) {
    const styled = styledOf(node, run.at(-1))
    const last = run.at(-1)
    if (last && sameStyle(last, styled)) last.text += styled.text
    else run.push(styled)
  }
  return run
}

/** A break has no style of its own: it takes that of what is before it. */
function styledOf(node: JSONContent, before: Styled | undefined): Styled {
  if (node.type === 'hardBreak') return { ...before, text: '\n' }
  const text = node.type === 'mergeField' ? String(node.attrs?.['tag'] ?? '') : (node.text ?? '')
  const mark = (type: string) => node.marks?.find((one) => one.type === type)
  const href: unknown = mark('link')?.attrs?.['href']
  return {
    text,
    ...(mark('bold') && { bold: true }),
    ...(mark('italic') && { italic: true }),
    ...(typeof href === 'string' && { href }),
  }
}

const sameStyle = (a: Styled, b: Styled): boolean =>
  a.bold === b.bold && a.italic === b.italic && a.href === b.href

/** A single line of text with merge fields as a document, and back. */
export const lineDoc = (template: string): JSONContent =>
  docOf([{ kind: 'paragraph', text: [{ text: template.replaceAll('\n', ' ') }] }])

export function lineOf(doc: JSONContent): string {
  return paragraphsOf(doc)
    .flatMap((one) => (one.kind === 'paragraph' ? one.text : one.items.flat()))
    .map(({ text }) => text)
    .join('')
    .replaceAll('\n', ' ')
}

/** A text of several lines as a document with a paragraph for each, and back: nothing of it changes. */
export const linesDoc = (template: string): JSONContent => ({
  type: 'doc',
  content: template.split('\n').map((line) => paragraphNode([{ text: line }])),
})

export const linesOf = (doc: JSONContent): string =>
  (doc.content ?? [])
    .map((paragraph) =>
      runOf(paragraph)
        .map(({ text }) => text)
        .join(''),
    )
    .join('\n')
