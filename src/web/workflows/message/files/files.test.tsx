import { describe, expect, test } from 'vitest'
import { DESIGNS } from '../../../../core/designs/index.ts'
import { messageFile } from '../../../../core/designs/messageFile.ts'
import { anEmail } from '../../../../testing/builders.ts'
import { htmlBlocks } from './htmlBlocks.ts'
import { mjmlBlocks } from './mjmlBlocks.ts'
import { readMessage } from './readMessage.ts'

describe('HTML', () => {
  test('becomes headings, texts, lists, images, buttons and lines, in their order', () => {
    const html = `<html><head><style>p{}</style></head><body><table><tr><td>
      <h1>Hello  <b>you</b></h1>
      <p>One <strong>two</strong> <a href="https://a.example">three</a><br>four</p>
      <ul><li>a</li><li><em>b</em></li></ul>
      <img src="https://a.example/x.png" alt="A hive" width="900">
      <img src="https://a.example/pixel.gif" width="1">
      <a href="https://a.example/go" style="padding:12px;background:#000">Press</a>
      <hr><script>alert(1)</script>Loose words
      </td></tr></table></body></html>`
    expect(htmlBlocks(html)).toEqual([
      { key: 'block-1', kind: 'heading', level: 1, text: 'Hello you' },
      {
        key: 'block-2',
        kind: 'text',
        text: [
          { kind: 'paragraph', text: [
            { text: 'One ' },
            { text: 'two', bold: true },
            { text: ' ' },
            { text: 'three', href: 'https://a.example' },
            { text: '\n' },
            { text: 'four' },
          ] },
          { kind: 'list', ordered: false, items: [[{ text: 'a' }], [{ text: 'b', italic: true }]] },
        ],
      },
      { key: 'block-3', kind: 'image', src: 'https://a.example/x.png', alt: 'A hive', width: 600 },
      { key: 'block-4', kind: 'button', label: 'Press', href: 'https://a.example/go' },
      { key: 'block-5', kind: 'divider' },
      { key: 'block-6', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Loose words' }] }] },
    ])
  }) // prettier-ignore

  test('a picture that leads somewhere keeps that', () => {
    expect(htmlBlocks('<a href="https://a.example"><img src="https://a.example/x.png"></a>')).toMatchObject([
      { kind: 'image', href: 'https://a.example', alt: '', width: 536 },
    ])
  }) // prettier-ignore
})

test('MJML: sections with several columns become columns', () => {
  const source = `<mjml><mj-body>
    <mj-section><mj-column><mj-text><h1>Title</h1><p>Words</p></mj-text></mj-column></mj-section>
    <mj-section>
      <mj-column><mj-image src="https://a.example/x.png" alt="x" width="200px" /></mj-column>
      <mj-column><mj-button href="https://a.example">Go</mj-button><mj-divider /></mj-column>
    </mj-section></mj-body></mjml>`
  expect(mjmlBlocks(source)).toEqual([
    { key: 'block-1', kind: 'heading', level: 1, text: 'Title' },
    { key: 'block-2', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Words' }] }] },
    {
      key: 'block-3',
      kind: 'columns',
      columns: [
        [{ key: 'block-4', kind: 'image', src: 'https://a.example/x.png', alt: 'x', width: 200 }],
        [
          { key: 'block-5', kind: 'button', label: 'Go', href: 'https://a.example' },
          { key: 'block-6', kind: 'divider' },
        ],
      ],
    },
  ])
  expect(mjmlBlocks('<p>no</p>')).toBeNull()
})

describe('JSON', () => {
  test('what was saved is read as it was', () => {
    for (const { make } of DESIGNS) {
      const made = make({ name: 'Combwright', site: 'https://combwright.example' })
      const message = anEmail('m', { ...made, format: 'designed', translations: { de: { subject: 'x' } } }) // prettier-ignore
      expect(readMessage(JSON.stringify(messageFile(message)))).toEqual({
        ...made,
        translations: { de: { subject: 'x' } },
      })
    }
  })

  test('anything else is refused in words', () => {
    expect(() => readMessage('{')).toThrow('This is no JSON')
    expect(() => readMessage('{"format":"other"}')).toThrow('This is no message of Yomble: format')
    expect(() => readMessage('<p></p>')).toThrow('There is nothing in it that could be shown')
    expect(() => readMessage('x'.repeat(1_000_001))).toThrow('too large')
  })
})
