import { expect, test, type Page } from '@playwright/test'
import { aDefinition, anEmail } from '../src/testing/builders.ts'
import { expectAccessible, moveClock, placeOrder, signIn } from './support.ts'

const sender = { name: 'Maren', address: 'maren@combwright.example' }
const definition = aDefinition({
  name: 'Thanks, tested',
  // Only for the people of these tests, so that what it sends gets in no other test's way.
  trigger: {
    kind: 'event',
    event: 'order.placed',
    filter: {
      kind: 'field',
      field: 'customer.email',
      op: 'in',
      value: ['one@example.org', 'two@example.org', 'three@example.org'],
    },
  },
  steps: [
    {
      key: 'how',
      kind: 'experiment',
      name: 'How to thank',
      lottery: 'how-to-thank',
      plan: { measure: 'ordered', windowDays: 14, least: 0.05 },
      arms: [
        { key: 'short', name: 'In short', weight: 50, steps: [anEmail('brief', { name: 'A line', sender })] }, // prettier-ignore
        { key: 'long', name: 'At length', weight: 50, steps: [anEmail('letter', { name: 'A letter', sender })] }, // prettier-ignore
      ],
    },
  ],
})

/** A workflow that is live, made as the interface does; returns its id. */
function publish(page: Page): Promise<string> {
  return page.evaluate(async (made) => {
    const send = async (path: string, body: unknown) => {
      const response = await fetch(path, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
      const text = await response.text()
      if (!response.ok) throw new Error(text)
      return JSON.parse(text) as { id: string }
    }
    const { id } = await send('/api/workflows', { definition: made })
    await send(`/api/workflows/${id}/go-live`, { revision: 0 })
    return id
  }, definition)
}

test('what came of a workflow, from its figures to its people, and from its test to a decision', async ({
  page,
}) => {
  test.setTimeout(120_000)
  await signIn(page)
  const id = await publish(page)
  await placeOrder(page, { email: 'one@example.org', firstName: 'Una', isNew: true })
  await placeOrder(page, { email: 'two@example.org', firstName: 'Dora', isNew: true })
  await moveClock(page, '+1 h')

  await page.goto(`/workflows/${id}/results`)
  await expect(page.getByText('Nobody has had all of the time yet.')).toBeVisible()
  await expect(page.getByText(/^2 ways through it began/)).toBeVisible()
  await expect(page.getByLabel('Where people went')).toContainText('2 entered')
  await expectAccessible(page)

  // Every arm that somebody was drawn into leads to them, by mouse and by keyboard.
  const reached = page
    .getByRole('row', { name: /^A (line|letter)/ })
    .getByRole('button')
    .first()
  await reached.click()
  const people = page.getByRole('complementary', { name: 'The people behind the figure' })
  await expect(people.getByRole('link').first()).toHaveText(/^(Una|Dora)$/)
  await expectAccessible(page)
  await page.keyboard.press('Escape')
  await expect(people).toHaveCount(0)

  // One message by itself, beside the other one.
  await page.getByRole('link', { name: 'A letter' }).click()
  await expect(page.getByRole('region', { name: 'A letter' })).toContainText('Links followed')
  await page.getByLabel('beside').selectOption('A line')
  await expect(page.getByRole('region', { name: 'A line' })).toContainText('Links followed')
  await expectAccessible(page)
  await page.getByRole('link', { name: 'Results of Thanks, tested' }).click()

  const card = page.getByRole('region', { name: 'Test: How to thank' })
  await expect(card).toContainText('by who ordered within 14 days of the draw')
  await expect(card).toContainText('Too early to tell')
  await card.getByRole('button', { name: 'Decide all the same' }).click()
  await card.getByLabel('From now on everybody takes').selectOption('At length')
  await card.getByLabel('Why, for colleagues').fill('We like writing.')
  await card.getByRole('button', { name: 'Make the draft' }).click()

  await expect(page.getByLabel('Timetable')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Email: A letter' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Experiment: How to thank' })).toHaveCount(0)
  await page.goto(`/workflows/${id}/results`)
  await expect(card).toContainText('everybody takes “At length”')
  await expect(card).toContainText('We like writing.')
})

test('results as a table for elsewhere', async ({ page }) => {
  await signIn(page)
  const id = await publish(page)
  await placeOrder(page, { email: 'three@example.org', firstName: 'Mo', isNew: true })
  await page.goto(`/workflows/${id}/results`)
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'CSV' }).click()
  expect((await download).suggestedFilename()).toBe(`results-${id}.csv`)
})
