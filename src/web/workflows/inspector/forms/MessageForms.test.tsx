import { act, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, ordersEver } from '../../../../testing/builders.ts'
import { choose, inspect, inspectStep, press, SENDER, tick } from '../../../testing/inspector.tsx'

describe('messages', () => {
  test('a sender brings its name, unless another was written', async () => {
    const now = await inspectStep(anEmail('m', { sender: SENDER }))
    await screen.findByRole('option', { name: 'maren@combwright.example · Maren' })
    choose('From', 'maren@combwright.example')
    expect(now.definition.steps[0]).toMatchObject({ sender: { name: 'Maren' } })
    choose('Name shown', 'Maren at the hives')
    choose('From', 'swarm@combwright.example')
    expect(now.definition.steps[0]).toMatchObject({
      sender: { name: 'Maren at the hives', address: 'swarm@combwright.example' },
    })
    expect(screen.getByText(/\(not confirmed yet\) · Swarm desk/)).toBeDefined()
  })

  test('one that is not among the senders is shown as what it is', async () => {
    await inspectStep(anEmail('m', { sender: { name: 'Old', address: 'old@combwright.example' } }))
    expect(await screen.findByText('old@combwright.example (not among the senders)')).toBeDefined()
  })

  test('copies: to addresses, and to groups, one that is gone among them', async () => {
    const now = await inspectStep(anEmail('m', { groups: ['gone'] }))
    tick(await screen.findByText('gone (gone)').then(() => /^gone/))
    expect(now.definition.steps[0]).not.toHaveProperty('groups')
    tick(/^Care team/)
    expect(now.definition.steps[0]).toMatchObject({ groups: ['care'] })
    choose('Copies to, at the same time', 'a@x.example, b@x.example')
    expect(now.definition.steps[0]).toMatchObject({ copies: ['a@x.example', 'b@x.example'] })
    choose('Copies to, at the same time', '')
    expect(now.definition.steps[0]).not.toHaveProperty('copies')
  })

  test('what happens shortly after another message is asked of marketing only', async () => {
    const now = await inspectStep(anEmail('m', { purpose: 'marketing' }))
    const gap = 'If another message left shortly before'
    expect(screen.getByLabelText(gap)).toBeDefined()
    choose('Purpose', 'transactional')
    expect(screen.queryByLabelText(gap)).toBeNull()
    expect(now.definition.steps[0]).toMatchObject({ purpose: 'transactional' })
  })

  test('only for some, and how many they are', async () => {
    const now = await inspectStep(anEmail('m'))
    press('Add a condition')
    expect(now.definition.steps[0]).toHaveProperty('onlyIf')
    await screen.findByText(/orders/, { selector: '[role=status]' })
    expect(screen.getByRole('status').textContent).toMatch(/50 of 200 orders .*\(25\s%\)/)
    press('Remove the condition')
    expect(now.definition.steps[0]).not.toHaveProperty('onlyIf')
  })

  test('a text is written with its fields as chips', async () => {
    await inspectStep(anEmail('m', { format: 'plain', subject: 'Order {{ order.number }}', body: 'Hello {{ customer.first_name | default: "you" }},\n\nyours' })) // prettier-ignore
    const text = await screen.findByRole('textbox', { name: 'Text' })
    const lines = [...text.querySelectorAll('p')].map(({ textContent }) => textContent)
    expect(lines).toEqual(['Hello first name, or “you”,', '', 'yours'])
    const subject = await screen.findByRole('textbox', { name: 'Subject' })
    expect(subject.textContent).toBe('Order order number')
  })

  test('merge fields are found by typing; those of colleagues only in notes', async () => {
    await inspectStep(anEmail('m', { format: 'plain' }))
    await userEvent.click(
      await screen.findByRole('button', { name: 'Put a merge field into Text' }),
    )
    await userEvent.type(screen.getByPlaceholderText(/^Find a field/), 'first name')
    const found = screen.getAllByRole('option').map(({ textContent }) => textContent)
    expect(found.some((one) => one.startsWith('first name'))).toBe(true)
    await userEvent.clear(screen.getByPlaceholderText(/^Find a field/))
    expect(screen.queryByRole('option', { name: /back office/ })).toBeNull()
  })

  test('the next message’s text comes into the same field, and what is put in there is its own', async () => {
    const texts = [anEmail('a', { subject: 'One', onlyIf: ordersEver(2) }), anEmail('b', { subject: 'Two' })] // prettier-ignore
    const now = await inspect(aDefinition({ steps: texts }), { kind: 'step', key: 'a' })
    const subject = await screen.findByRole('textbox', { name: 'Subject' })
    expect(subject.textContent).toBe('One')
    act(() => now.select({ kind: 'step', key: 'b' }))
    await waitFor(() => expect(subject.textContent).toBe('Two'))
    expect(screen.queryByRole('button', { name: 'Remove the condition' })).toBeNull()
    press('Put a merge field into Subject')
    await userEvent.click(screen.getByRole('option', { name: /^order number/ }))
    await waitFor(() =>
      expect(now.definition.steps[1]).toHaveProperty(
        'subject',
        expect.stringContaining('{{ order.number }}'),
      ),
    )
    expect(now.definition.steps[0]).toBe(texts[0])
    act(() => now.select({ kind: 'step', key: 'a' }))
    await waitFor(() => expect(subject.textContent).toBe('One'))
  })

  test('who may only look cannot type either', async () => {
    await inspect(aDefinition({ steps: [anEmail('m', { format: 'plain' })] }), { kind: 'step', key: 'm' }, true) // prettier-ignore
    const text = await screen.findByRole('textbox', { name: 'Text' })
    await waitFor(() => expect(text.getAttribute('contenteditable')).toBe('false'))
    expect(screen.getByLabelText('Purpose').closest('fieldset')?.disabled).toBe(true)
  })
})
