import { expect, test, type Page } from '@playwright/test'
import { anEmail, aDefinition, ordersEver, wait } from '../src/testing/builders.ts'
import type { Definition } from '../src/core/workflow/definition.ts'
import type { Step } from '../src/core/workflow/steps.ts'
import { expectAccessible, goLive, goTo, moveClock, placeOrder, signIn } from './support.ts'

/** Adds a workflow through the API, as an import would, and opens it. */
async function open(page: Page, definition: Definition): Promise<void> {
  await signIn(page)
  const origin = new URL(page.url()).origin
  const response = await page.request.post('/api/workflows', {
    headers: { origin },
    data: { definition },
  })
  expect(response.status()).toBe(201)
  const { id } = (await response.json()) as { id: string }
  await page.goto(`/workflows/${id}`)
  await expect(page.getByLabel('Timetable')).toBeVisible()
}

test.describe('conditions', () => {
  test.beforeEach(async ({ page }) => {
    await open(
      page,
      aDefinition({ name: 'Conditions', trigger: { kind: 'event', event: 'order.placed' } }),
    )
    await page.getByRole('button', { name: /^Starts when/ }).click()
    await page.getByRole('button', { name: 'Add a condition' }).click()
  })
  const strip = (page: Page) => page.getByRole('button', { name: /^Starts when/ })

  test('money is typed as money, and told in words at once', async ({ page }) => {
    await page.getByLabel('Value').fill('1234,5')
    await expect(strip(page)).toContainText('order total is at least €1,234.50')
    await page.getByLabel('Value').fill('12.345')
    // More decimals than the currency has: what is typed stays, what is valid stays valid.
    await expect(page.getByLabel('Value')).toHaveValue('12.345')
    await expect(strip(page)).toContainText('€1,234.50')
    await page.getByLabel('Comparison').selectOption({ label: 'is between' })
    await page.getByLabel('From', { exact: true }).fill('10')
    await page.getByLabel('To', { exact: true }).fill('20')
    await expect(strip(page)).toContainText('order total is between €10.00 and €20.00')
  })

  test('categories are picked from the shop’s own', async ({ page }) => {
    await page.getByLabel('Which fact').selectOption({ label: 'categories ordered' })
    await expect(page.getByRole('list', { name: 'Go-live check' })).toContainText(
      'A condition on categories ordered has no value.',
    )
    await page.getByLabel('Add to categories ordered').fill('hiv')
    await page.getByRole('button', { name: 'Hives & frames', exact: true }).click()
    await page.getByLabel('Add to categories ordered').fill('prot')
    await page.keyboard.press('Enter')
    await expect(strip(page)).toContainText(
      'categories ordered include any of Hives & frames, Protective wear',
    )
    await page.getByRole('button', { name: 'Remove Hives & frames' }).click()
    await expect(strip(page)).toContainText('include any of Protective wear')
  })

  test('groups and negations read as a sentence', async ({ page }) => {
    await page.getByLabel('Value').fill('50')
    await page.getByRole('button', { name: 'and / or …' }).click()
    const second = page.getByLabel('What is asked').nth(1)
    await second.selectOption({ label: 'something happened' })
    await page.getByLabel('not', { exact: true }).nth(1).check()
    await page
      .getByLabel('How these go together')
      .selectOption({ label: 'at least one of these holds' })
    await expect(strip(page)).toContainText(
      'order total is at least €50.00 or no order placed ever',
    )
    await page.getByRole('button', { name: 'Remove this condition' }).first().click()
    await expect(strip(page)).toContainText('no order placed ever')
    await page.keyboard.press('Control+z')
    await expect(strip(page)).toContainText('order total is at least €50.00 or')
    await page.getByRole('button', { name: 'Remove the condition' }).click()
    await expect(page.getByText('Every such event starts it.')).toBeVisible()
  })
})

test('entry rules and waits are told in words', async ({ page }) => {
  await open(page, aDefinition({ steps: [wait('w', 'P1D'), anEmail('m')] }))
  await page.getByRole('button', { name: /^Entry/ }).click()
  await page
    .getByLabel('How often one person may enter')
    .selectOption({ label: 'again after a while' })
  await expect(page.getByRole('button', { name: /^Entry/ })).toContainText('again after 30 days')
  await page.getByLabel('While someone is in it').selectOption({ label: 'one run at a time' })
  await expect(page.getByRole('button', { name: /^Entry/ })).toContainText('one run at a time')
  await page.getByRole('button', { name: 'Wait 1 d' }).click()
  await page.getByLabel('How long: unit').selectOption('weeks')
  await page.getByLabel('How long', { exact: true }).fill('2')
  await expect(page.getByRole('button', { name: 'Wait 2 wk' })).toBeVisible()
  await expect(page.getByText('+ 14 d')).toBeVisible()
})

test('merge fields go in where the cursor is, by search, typed and pasted', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await open(
    page,
    aDefinition({ steps: [anEmail('m', { name: 'Note', body: 'Hello ,\n\nMaren' })] }),
  )
  await page.getByRole('button', { name: 'Email: Note' }).click()
  const text = page.getByLabel('Text', { exact: true })
  await text.focus()
  await page.keyboard.press('Control+Home')
  for (let step = 0; step < 6; step += 1) await page.keyboard.press('ArrowRight')
  await page.getByRole('button', { name: 'Put a merge field into Text' }).click()
  await page.keyboard.type('first na')
  await page.keyboard.press('Enter')
  await expect(text.locator('p')).toHaveText(['Hello first name, or “there”,', '', 'Maren'])
  // The menu gives the focus back a frame later; a click before that would be undone by it.
  await expect(text).toBeFocused()
  // Whoever knows the tags types them, or brings lines from elsewhere.
  await text.locator('p').last().click()
  await page.keyboard.type('\n{{ order.number }}')
  await expect(text.locator('p').last().locator('.merge-field')).toHaveText('order number')
  await page.evaluate(`navigator.clipboard.write([new ClipboardItem({
    'text/plain': new Blob([' of\\r\\n{{ shop.name }}'], { type: 'text/plain' }),
    'text/html': new Blob(['<p> of</p><p><b>{{ shop.name }}</b></p>'], { type: 'text/html' }),
  })])`)
  await page.keyboard.press('Control+v')
  await expect(text.locator('p')).toHaveText([
    'Hello first name, or “there”,',
    '',
    'Maren',
    'order number of',
    'shop name',
  ])
  await expect(text.locator('strong')).toHaveCount(0)
  await expect
    .poll(async () => {
      const kept = await page.request.get(page.url().replace('/workflows/', '/api/workflows/'))
      return ((await kept.json()) as { draft: Definition }).draft.steps[0]
    })
    .toMatchObject({
      body: 'Hello {{ customer.first_name | default: "there" }},\n\nMaren\n{{ order.number }} of\n{{ shop.name }}',
    })
  // The workflow's own undo takes it back, in the field too.
  await page.keyboard.press('Control+z')
  await expect(text).not.toContainText('shop name')
})

/** Twelve splits inside one another and sixty messages. */
function huge(): Definition {
  const nest = (depth: number): Step[] =>
    depth === 0
      ? []
      : [
          wait(`w${depth}`, 'P1D'),
          ...[1, 2, 3, 4].map((one) =>
            anEmail(`m${depth}-${one}`, {
              name: `A message with a rather long name, number ${depth}.${one}`,
            }),
          ),
          {
            key: `s${depth}`,
            kind: 'split',
            branches: [
              {
                key: `b${depth}`,
                name: `People who came back for the ${depth}th time`,
                when: ordersEver(depth),
                steps: nest(depth - 1),
              },
            ],
            otherwise: [anEmail(`o${depth}`)],
          },
        ]
  return aDefinition({ name: 'A very long workflow', steps: nest(12) })
}

test('a workflow of sixty messages stays in its frame, and every message can be reached', async ({
  page,
}) => {
  await open(page, huge())
  const sideways = await page.evaluate<boolean>(
    'document.documentElement.scrollWidth > document.documentElement.clientWidth',
  )
  expect(sideways).toBe(false)
  await expect(page.getByRole('button', { name: /^Email:/ })).toHaveCount(60)
  const last = page.getByRole('button', {
    name: 'Email: A message with a rather long name, number 1.4',
  })
  await last.click()
  await expect(page.getByLabel('Name, for you and colleagues')).toHaveValue(
    'A message with a rather long name, number 1.4',
  )
  await last.focus()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('button', { name: /^Email:/ })).toHaveCount(59)
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: /^Email:/ })).toHaveCount(60)
})

test('mailbox: HTML, text and headers of what arrived, and why it was sent', async ({ page }) => {
  await open(
    page,
    aDefinition({
      name: 'Letters',
      // Only for the one person of this test, so that what it sends gets in no other test's way.
      trigger: {
        kind: 'event',
        event: 'order.paid',
        filter: { kind: 'field', field: 'customer.email', op: 'is', value: 'letters@example.org' },
      },
      steps: [
        anEmail('m', {
          name: 'Letter',
          format: 'letter',
          subject: 'A letter about {{ order.number }}',
        }),
      ],
    }),
  )
  await goLive(page)
  await expect(page.getByText('Version 1 is live.')).toBeVisible()
  const number = await placeOrder(page, {
    email: 'letters@example.org',
    firstName: 'Lea <b>',
    isNew: true,
  })
  await page.getByRole('button', { name: `Pay order ${number}`, exact: true }).click()
  await moveClock(page, '+30 min')
  await goTo(page, 'Mailbox')
  await page.getByLabel('Search mails').fill(`A letter about ${number}`)
  await expect(page.getByRole('region', { name: 'The mail' })).toContainText(
    `A letter about ${number}`,
  )
  await expect(page.frameLocator('iframe').getByText('Hello Lea <b>')).toBeVisible()
  await page.getByRole('button', { name: 'As plain text' }).click()
  await expect(
    page.getByRole('region', { name: 'The mail' }).getByText('Hello Lea <b>'),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Headers' }).click()
  await expect(page.getByText(/^<test-shop\.\d+\.m@combwright\.example>$/)).toBeVisible()
  await page.getByRole('link', { name: 'Why was this sent?' }).click()
  await expect(page.getByRole('heading', { name: 'Lea <b> in Letters' })).toBeVisible()
  await page.getByRole('link', { name: 'show the mail' }).click()
  await expect(page.getByRole('region', { name: 'The mail' })).toContainText(
    `A letter about ${number}`,
  )
})

test('advice is mended in one step, or answered with a note that stays', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  for (const [index, label] of ['Wait', 'Email'].entries()) {
    await page.locator(`[data-place="root:${index}"]`).click()
    await page.getByRole('option', { name: `${label}:` }).click()
  }
  const strip = page.getByRole('list', { name: 'Go-live check' })
  await strip.getByRole('button', { name: 'Leave when the order is refunded' }).click()
  await expect(page.getByRole('button', { name: /^Leaves before any message/ })).toContainText(
    'this order was refunded since entry',
  )
  // What was pressed is gone, and the keyboard is where it was.
  await expect(strip.locator(':focus')).toBeVisible()
  await strip
    .getByRole('button', { name: 'Say why it is right: Nobody leaves when the order is cancelled' })
    .click()
  await expect(strip.getByLabel('Why it is right as it is')).toBeFocused()
  await page.keyboard.type('Cancelled ones are told by phone')
  await page.keyboard.press('Enter')
  await strip.getByRole('button', { name: '1 answered' }).click()
  await expect(strip).toContainText('Right so: Cancelled ones are told by phone')
  await page.reload()
  await strip.getByRole('button', { name: '1 answered' }).click()
  await expect(strip).toContainText('Right so: Cancelled ones are told by phone')
  await strip.getByRole('button', { name: 'Open again' }).click()
  await expect(strip).not.toContainText('Right so')
})

test('the list: labels, sorting, the order workflows are tried in, pausing several', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Filed away')
  await page.getByLabel('Labels, for the list').fill('Attic')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Remove the label Attic' })).toBeVisible()
  await goTo(page, 'Workflows')
  await page.getByRole('group', { name: 'Labels' }).getByRole('button', { name: 'Attic' }).click()
  await expect(page.getByRole('table').getByRole('link')).toHaveText(['Filed away'])
  await page.getByRole('button', { name: 'Sent' }).click()
  await expect(page.getByRole('columnheader', { name: 'Sent' })).toHaveAttribute(
    'aria-sort',
    'descending',
  )
  // Kept in the address, which changes a moment after the click.
  await page.getByLabel('by trigger, highest priority first').click()
  await expect(page.getByLabel('by trigger, highest priority first')).toBeChecked()
  await expect(page.getByRole('rowheader', { name: 'order placed' })).toBeVisible()
  await expect(page).toHaveURL(/label=Attic&sort=sent&down=yes&by=trigger/)
  await page.getByLabel('Choose Filed away').check()
  await expect(page.getByRole('group', { name: 'Chosen workflows' })).toContainText(
    '1 of them not live',
  )
  await page.getByRole('button', { name: 'Choose none' }).click()
  await expect(page.getByLabel('Choose Filed away')).not.toBeChecked()
})

test('a split shows what is ordered together, and makes a path of it; conditions are counted', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Split:' }).click()
  await page.getByText('What is ordered together').click()
  const make = page.getByRole('button', { name: /^Make a path for/ }).first()
  const name = ((await make.getAttribute('aria-label')) ?? '').replace('Make a path for ', '')
  await make.click()
  await page.getByRole('button', { name: `Path: ${name}`, exact: true }).click()
  await expect(
    page.getByText(/^Holds for [\d,]+ of [\d,]+ orders of the last 90 days/),
  ).toBeVisible()
})

test('a workflow about one product is copied for another', async ({ page }) => {
  const filter = { kind: 'field', field: 'line.title', op: 'is', value: 'Bee brush' } as const
  const trigger = { kind: 'event', event: 'order.placed', per: 'line', filter } as const
  await open(page, aDefinition({ name: 'By product: Bee brush', trigger }))
  await page.getByText('Duplicate for another product').click()
  await page.getByLabel('In place of “Bee brush” stands').selectOption({ label: 'Ventilated suit' })
  await page.getByRole('button', { name: 'Make the copy' }).click()
  const name = page.getByLabel('Name', { exact: true })
  await expect(name).toHaveValue('By product: Ventilated suit')
  await expect(page.getByRole('button', { name: /^Starts when/ })).toContainText('Ventilated suit')
  await page.getByRole('button', { name: 'Delete' }).click()
  await page.getByRole('button', { name: 'Delete the draft' }).click()
})

test('a recipe becomes a draft with the shop’s own sender', async ({ page }) => {
  await signIn(page)
  await page.getByRole('link', { name: 'Recipes' }).click()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Use the recipe Open checkout' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Open checkout')
  await page.getByRole('button', { name: 'Email: A person writes' }).click()
  await expect(page.getByLabel('From', { exact: true })).toHaveValue(/@combwright\.example$/)
  await expect(page.getByRole('button', { name: 'Go live' })).toBeEnabled()
})

test('a recipe about a product asks which', async ({ page }) => {
  await signIn(page)
  await page.getByRole('link', { name: 'Recipes' }).click()
  const card = page.getByRole('listitem').filter({ hasText: 'For each line of one product' })
  await expect(card.getByRole('button')).toBeDisabled()
  await card.getByLabel('Which product?').selectOption('Bee brush')
  await card.getByRole('button', { name: 'Use the recipe By product: Bee brush' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('By product: Bee brush')
  await expect(page.getByRole('button', { name: /^Starts when/ })).toContainText('Bee brush')
  await page.getByRole('button', { name: 'Delete' }).click()
  await page.getByRole('button', { name: 'Delete the draft' }).click()
})
