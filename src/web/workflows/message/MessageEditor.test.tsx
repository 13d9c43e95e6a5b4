import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useEffect, useState } from 'react'
import { describe, expect, test } from 'vitest'
import type { Preview, Sample } from '../../../contract/messages.ts'
import type { Block } from '../../../core/blocks/blocks.ts'
import { definitionSchema } from '../../../core/workflow/definition.ts'
import type { MessageStep } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail } from '../../../testing/builders.ts'
import { show, type Answers, type Asked } from '../../testing/screen.tsx'
import { MessageEditor } from './MessageEditor.tsx'

const SAMPLES: Sample[] = ['Ines', 'Edith'].map((name, index) => ({
  customerId: `c${index}`,
  subjectId: `o${index}`,
  line: null,
  name,
  about: `Order 100${index}`,
  at: 0,
}))
const PREVIEW: Preview = {
  sample: SAMPLES[0] ?? null,
  to: 'ines@example.org',
  subject: 'Order 1000 is on its way',
  previewText: 'Packed this morning.',
  html: '<html><head></head><body><img alt="" src="/hive.png"><p>Hello Ines</p></body></html>',
  text: 'Hello Ines',
  bytes: 19_000,
  fields: { 'order.number': '1000' },
  notes: [],
  problem: null,
}
const BLOCKS: Block[] = [
  { key: 'h', kind: 'heading', level: 1, text: 'On its way' },
  { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Hello' }] }] },
]

function write(message: MessageStep, answers: Answers = {}, mayEdit = true) {
  const other = anEmail('other', { name: 'Care guide' })
  const now = { message, asked: [] as Asked[] }
  const first = aDefinition({ steps: [message, other] })
  function Page() {
    const [definition, setDefinition] = useState(first)
    const [step] = definition.steps as [MessageStep]
    useEffect(() => void Object.assign(now, { message: step, definition }), [step, definition])
    return (
      <MessageEditor
        workflow={{ id: 'w', liveVersion: null }}
        definition={definition}
        message={step}
        onChange={setDefinition}
        mayEdit={mayEdit}
      />
    )
  }
  now.asked = show(<Page />, {
    '/api/addresses': { senders: [], groups: [], postalAddress: 'Sintra' },
    '/api/counter/products': [],
    '/api/messages/preview': PREVIEW,
    '/api/messages/samples': SAMPLES,
    '/api/kept-blocks': [],
    '/api/workflows/w/versions': [],
    ...answers,
  })
  return now
}

const design = () => anEmail('m', { name: 'Dispatch', format: 'designed', blocks: BLOCKS })
const kinds = ({ message }: { message: MessageStep }) =>
  message.kind === 'email' ? (message.blocks ?? []).map(({ kind }) => kind) : []
const card = (key: string) => document.querySelector<HTMLElement>(`[data-block="${key}"]`)
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }))
/** The messages that previews were asked of, in their order. */
const previewed = (asked: readonly Asked[]) =>
  asked.filter(({ path }) => path === '/api/messages/preview').map(({ body }) => body)

describe('blocks', () => {
  test('are found by typing, and put behind the one that is open', async () => {
    const now = write(design())
    fireEvent.click(card('h') as HTMLElement)
    press('Add a block')
    await userEvent.type(screen.getByPlaceholderText('Which?'), 'divider')
    await userEvent.keyboard('{Enter}')
    expect(kinds(now)).toEqual(['heading', 'divider', 'text'])
    expect(definitionSchema.safeParse(aDefinition({ steps: [now.message] })).error).toBeUndefined()
  })

  test('are moved with Alt and an arrow, doubled and taken out', async () => {
    const now = write(design())
    card('h')?.focus()
    await userEvent.keyboard('{Alt>}{ArrowDown}{/Alt}')
    expect(kinds(now)).toEqual(['text', 'heading'])
    press('Duplicate Heading')
    expect(kinds(now)).toEqual(['text', 'heading', 'heading'])
    press('Remove Text')
    expect(kinds(now)).toEqual(['heading', 'heading'])
  })

  test('a block is for some only, and says so', async () => {
    const now = write(design())
    fireEvent.click(card('t') as HTMLElement)
    const shown = within(screen.getByRole('region', { name: 'Shown only if' }))
    fireEvent.click(shown.getByRole('button', { name: 'Add a condition' }))
    expect(now.message).toMatchObject({ blocks: [{}, { onlyIf: { kind: 'field' } }] })
    expect(card('t')?.textContent).toContain('for some')
  })

  test('those about another trigger are not offered', async () => {
    write(design())
    press('Add a block')
    const offered = screen.getAllByRole('option').map(({ textContent }) => textContent)
    expect(offered.some((one) => one.startsWith('Items'))).toBe(true)
    expect(offered.some((one) => one.startsWith('Coupon'))).toBe(false)
  })
})

describe('the preview', () => {
  test('is of whom the trigger concerned last, and of others', async () => {
    const now = write(design())
    expect(await screen.findByText('Order 1000 is on its way')).toBeDefined()
    const next = screen.getByRole<HTMLButtonElement>('button', { name: 'The next one' })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'The one before' }).disabled).toBe(true) // prettier-ignore
    fireEvent.click(next)
    expect(next.disabled).toBe(true)
    await waitFor(() => expect(previewed(now.asked).at(-1)).toMatchObject({ sample: { customerId: 'c1' } })) // prettier-ignore
  })

  test('narrow, dark, without images, as plain text', async () => {
    write(design())
    const frame = () => screen.getByTitle<HTMLIFrameElement>('The message')
    await waitFor(() => expect(frame().contentDocument?.body.textContent).toContain('Hello Ines'))
    press('Images off')
    await waitFor(() => expect(frame().contentDocument?.querySelector('img')?.getAttribute('src')).toBe('')) // prettier-ignore
    press('Narrow')
    expect(frame().className).toContain('375px')
    fireEvent.click(screen.getByRole('button', { name: 'Plain text', pressed: false }))
    expect(screen.queryByTitle('The message')).toBeNull()
    expect(screen.getByText('Hello Ines').tagName).toBe('PRE')
  })

  test('what would keep it from being sent is said in its place', async () => {
    write(design(), { '/api/messages/preview': { ...PREVIEW, problem: 'first name is not known' } })
    expect((await screen.findByRole('alert')).textContent).toContain('first name is not known.')
  })

  test('another message of the workflow beside it, for the same person', async () => {
    const now = write(design())
    await userEvent.selectOptions(await screen.findByLabelText('Compare with'), 'Care guide')
    const beside = within(screen.getByRole('group', { name: 'Care guide' }))
    expect(await beside.findByText('Order 1000 is on its way')).toBeDefined()
    expect(previewed(now.asked)).toContainEqual(
      expect.objectContaining({
        message: [expect.objectContaining({ key: 'other' })],
        sample: { customerId: 'c0', subjectId: 'o0', line: null },
      }),
    )
  })

  test('a text message is seen on a phone', async () => {
    write({ key: 'm', kind: 'sms', name: 'Text', purpose: 'transactional', body: 'Hello' }, { '/api/messages/preview': { ...PREVIEW, html: null } }) // prettier-ignore
    expect((await screen.findAllByText('Hello Ines')).length).toBeGreaterThan(0)
    expect(screen.queryByRole('button', { name: 'Dark' })).toBeNull()
    expect(screen.queryByRole('button', { name: /Send me a test/ })).toBeNull()
  })
})

describe('a test to oneself', () => {
  test('goes as it is seen, and says where to', async () => {
    const now = write(design(), { '/api/messages/test': { to: 'maren@combwright.example' } })
    await screen.findByText('Order 1000 is on its way')
    press('Send me a test')
    expect(await screen.findByText('Sent to maren@combwright.example.')).toBeDefined()
    expect(now.asked.at(-1)?.body ?? previewed(now.asked).at(-1)).toMatchObject({
      sample: { customerId: 'c0' },
    })
  })

  test('is not for those who may only look', async () => {
    write(design(), {}, false)
    await screen.findByText('Order 1000 is on its way')
    expect(screen.queryByRole('button', { name: /Send me a test/ })).toBeNull()
    expect(screen.getByRole('button', { name: 'Add a block' }).closest('fieldset')?.disabled).toBe(true) // prettier-ignore
  })
})

test('a letter is written as text, and can become a design that keeps its words', async () => {
  const now = write(anEmail('m', { format: 'letter', subject: 'Hello', body: 'One\n\nTwo' }))
  const lines = [...screen.getByRole('textbox', { name: 'Text' }).querySelectorAll('p')]
  expect(lines.map(({ textContent }) => textContent)).toEqual(['One', '', 'Two'])
  fireEvent.change(screen.getByLabelText('Form'), { target: { value: 'designed' } })
  expect(JSON.stringify(now.message)).toMatch(/One.*Two/)
  expect(kinds(now).length).toBeGreaterThan(0)
})
