import { expect, test, type Page } from '@playwright/test'
import { aDefinition, orderEvent } from '../src/testing/builders.ts'
import {
  expectAccessible,
  goLive,
  goTo,
  moveClock,
  openNewEmail,
  placeOrder,
  signIn,
} from './support.ts'

const text = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true })
/** What the reader sees. */
const seen = (page: Page) => page.frameLocator('iframe[title="The message"]')

async function addBlock(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a block' }).click()
  await page.getByPlaceholder('Which?').fill(name)
  await page.keyboard.press('Enter')
}

/** Makes the message one of blocks. */
async function design(page: Page, purpose: string): Promise<void> {
  await page.getByText('Sender, purpose, recipients').click()
  await page.getByLabel('Purpose').selectOption({ label: purpose })
  await page.getByLabel('Form', { exact: true }).selectOption('designed')
  await page.getByText('Sender, purpose, recipients').click()
}

test('a designed message is written, seen, tested, sent, and its click comes back', async ({
  page,
}) => {
  await openNewEmail(page, 'Designed hello')
  // Looked at for the one that was there before any test.
  await page.getByLabel('Find somebody').fill('Past')
  await text(page, 'Subject').click()
  await page.keyboard.type('Order ')
  await page.getByRole('button', { name: 'Put a merge field into Subject' }).click()
  await page.getByPlaceholder('Find a field').fill('order number')
  await expect(page.getByRole('option', { name: /order number.*1000/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await design(page, 'transactional: part of the order')
  await addBlock(page, 'Heading')
  await text(page, 'Heading').click()
  await page.keyboard.type('We have it')
  await addBlock(page, 'Text')
  await text(page, 'Text').click()
  await page.keyboard.type('Dear friend, ')
  await page.getByRole('button', { name: 'Bold' }).click()
  await page.keyboard.type('thank you')
  await addBlock(page, 'Items')
  await addBlock(page, 'Button')
  await text(page, 'Words on the button').click()
  await page.keyboard.type('Look at it')
  await text(page, 'Where it leads').click()
  await page.keyboard.press('End')
  await page.keyboard.type('combwright.example/orders')
  // Seen as the customer of the past gets it.
  await expect(page.getByLabel('In the inbox')).toContainText('Order 1000')
  await expect(seen(page).getByRole('heading', { name: 'We have it' })).toBeVisible()
  await expect(seen(page).locator('strong', { hasText: 'thank you' })).toBeVisible()
  await expect(seen(page).getByText('National hive, flat pack')).toBeVisible()
  await expect(seen(page).getByRole('link', { name: 'Look at it' })).toHaveAttribute('href', 'https://combwright.example/orders') // prettier-ignore
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Plain text' }).click()
  await expect(page.getByText('Look at it: https://combwright.example/orders')).toBeVisible()
  await page.getByRole('button', { name: 'Send me a test' }).click()
  await expect(page.getByText('Sent to maren@combwright.example.')).toBeVisible()

  await goLive(page)
  await expect(page.getByRole('button', { name: 'Live v1' })).toBeVisible()
  const number = await placeOrder(page, { email: 'designed@example.org', isNew: true })
  await goTo(page, 'Mailbox')
  await expect(page.getByText('[Test] Order 1000').first()).toBeVisible()
  await page.getByRole('link', { name: new RegExp(`designed@.*Order ${number}`) }).click()
  const mail = page.frameLocator('iframe[title="The mail as HTML"]')
  const href = await mail.getByRole('link', { name: 'Look at it' }).getAttribute('href')
  const answer = await page.request.get(href ?? '', { maxRedirects: 0 })
  expect(answer.headers()['location']).toBe('https://combwright.example/orders')

  await goTo(page, 'Workflows')
  await page.getByRole('link', { name: 'Designed hello' }).click()
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByRole('button', { name: 'Paused v1' })).toBeVisible()
})

test('blocks are moved, doubled and taken out by keyboard; undone; kept for some', async ({
  page,
}) => {
  await openNewEmail(page, 'Blocks by keyboard')
  await design(page, 'marketing: only with consent')
  for (const name of ['Heading', 'Divider', 'Help']) await addBlock(page, name)
  const blocks = page.getByRole('list', { name: 'Blocks' }).getByRole('listitem')
  const kinds = () => blocks.evaluateAll((all) => all.map((one) => one.querySelector('[data-block] .font-medium')?.textContent)) // prettier-ignore
  await expect.poll(kinds).toEqual(['Heading', 'Divider', 'Help'])
  await page.locator('[data-block="help-1"]').focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(kinds).toEqual(['Heading', 'Help', 'Divider'])
  await page.getByRole('button', { name: 'Duplicate Help' }).click()
  await page.getByRole('button', { name: 'Remove Divider' }).click()
  await expect.poll(kinds).toEqual(['Heading', 'Help', 'Help'])
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(kinds).toEqual(['Heading', 'Help', 'Divider'])
  // A heading without words is a finding; so is what leads nowhere.
  await addBlock(page, 'Button')
  await expect(page.getByText('“Hello”: a button has no words.')).toBeVisible()
  await page.locator('[data-block="help-1"]').click()
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await expect(page.locator('[data-block="help-1"]')).toContainText('for some')
  // Kept for other messages, and offered by its name.
  await page.locator('[data-block="heading-1"]').click()
  await page.getByLabel('Keep it for other messages, under a name').fill('Our heading')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.locator('[data-block="heading-1"]')).toContainText('Our heading')
  await page.getByRole('button', { name: 'Add a block' }).click()
  await expect(page.getByRole('option', { name: /Our heading/ })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Make it this message’s own' }).click()
  await expect(text(page, 'Heading')).toBeVisible()
  await page.getByRole('link', { name: 'Back to the timetable' }).click()
  await expect(page.getByRole('button', { name: 'Email: Hello' })).toBeVisible()
})

test('blocks are dragged; a file goes along; the draft is seen beside what is live', async ({
  page,
}) => {
  await openNewEmail(page, 'Blocks by mouse')
  await design(page, 'transactional: part of the order')
  await text(page, 'Subject').click()
  await page.keyboard.type('As it was')
  for (const name of ['Heading', 'Divider', 'Help']) await addBlock(page, name)
  const blocks = page.getByRole('list', { name: 'Blocks' }).getByRole('listitem')
  const kinds = () => blocks.evaluateAll((all) => all.map((one) => one.querySelector('[data-block] .font-medium')?.textContent)) // prettier-ignore
  // Closed, they all can be seen.
  await page.locator('[data-block="help-1"]').click()
  await page.getByRole('button', { name: 'Move Heading', exact: true }).hover()
  await page.mouse.down()
  await page.getByRole('button', { name: 'Move Divider', exact: true }).hover()
  await page.getByRole('button', { name: 'Move Help', exact: true }).hover()
  await page.mouse.up()
  await expect.poll(kinds).toEqual(['Divider', 'Help', 'Heading'])
  await page.locator('[data-block="heading-1"]').click()
  await text(page, 'Heading').click()
  await page.keyboard.type('The first words')

  await page.getByText('Sender, purpose, recipients').click()
  // The server is away at first: the file waits for it.
  await page.route('**/api/documents?*', (route) => route.abort(), { times: 1 })
  await page.getByRole('group', { name: 'Files with it' }).locator('input[type=file]').setInputFiles({ name: 'Care guide.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.7') }) // prettier-ignore
  await expect(page.getByText('The server is away: trying again …')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Care guide.pdf' })).toBeVisible()
  await expect(page.getByText('With Care guide.pdf')).toBeVisible()
  await goLive(page)
  await expect(page.getByRole('button', { name: 'Live v1' })).toBeVisible()

  await page.locator('[data-block="heading-1"]').click()
  await text(page, 'Heading').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Other words')
  await page.getByLabel('Compare with').selectOption('version 1')
  const beside = (name: string) =>
    page.getByRole('group', { name }).frameLocator('iframe').getByRole('heading')
  await expect(beside('Version 1')).toHaveText('The first words')
  await expect(beside('As it is written')).toHaveText('Other words')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Pause' }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByRole('button', { name: 'Paused v1' })).toBeVisible()
})

test('a sender is asked, and confirms; until then nothing goes live with it', async ({ page }) => {
  await signIn(page)
  await goTo(page, 'Settings')
  await page.getByLabel('Name of the new sender').fill('The swarm desk')
  await page.getByLabel('Address of the new sender').fill('swarm@combwright.example')
  await page.getByRole('button', { name: 'Add a sender' }).click()
  await expect(page.getByRole('row', { name: /swarm@combwright.example not yet/ })).toBeVisible()
  await page.getByLabel('Name of the new group').fill('Swarm catchers')
  await page.getByRole('button', { name: 'Make a group' }).click()
  await page.getByLabel('Addresses of Swarm catchers').fill('a@combwright.example, b@combwright')
  await page.getByLabel('Addresses of Swarm catchers').blur()
  await expect(page.getByText(/must be an email address/)).toBeVisible()
  await page.getByLabel('Addresses of Swarm catchers').fill('a@combwright.example')
  await page.getByLabel('Addresses of Swarm catchers').blur()
  await expectAccessible(page)

  await goTo(page, 'Workflows')
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('From the swarm desk')
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Email:' }).click()
  await page.getByLabel('From', { exact: true }).selectOption('swarm@combwright.example')
  await expect(page.getByLabel('Name shown')).toHaveValue('The swarm desk')
  await page.getByLabel('Swarm catchers').check()
  await expect(page.getByText('swarm@combwright.example is not confirmed yet.')).toBeVisible()

  await goTo(page, 'Mailbox')
  await page.getByRole('link', { name: /swarm@combwright.example.*May Combwright write/ }).click()
  await page.getByRole('button', { name: 'As plain text' }).click()
  const words = await page.locator('pre').textContent()
  const link = /http\S+confirm-sender\S+/.exec(words ?? '')?.[0] ?? ''
  await page.goto(link)
  await page.getByRole('button', { name: 'That is right' }).click()
  await expect(page.getByRole('status')).toHaveText(/is confirmed/)
  await page.goto('/workflows')
  await page.getByRole('link', { name: 'From the swarm desk' }).click()
  await page.getByRole('button', { name: /^Email:/ }).click()
  await expect(page.getByText('swarm@combwright.example is not confirmed yet.')).toHaveCount(0)
})

test('what is pasted from a word processor is cleaned', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openNewEmail(page, 'Pasted')
  await design(page, 'marketing: only with consent')
  await addBlock(page, 'Text')
  await text(page, 'Text').click()
  const html = '<html><head><style>p{color:red}</style></head><body><p class="MsoNormal" style="font-size:30pt" onclick="x()">One <b>two</b> <span style="color:red">three</span></p><h1>Big</h1><script>alert(1)</script></body></html>' // prettier-ignore
  // In the page's own words: the tests know nothing of the browser's types.
  await page.evaluate(`navigator.clipboard.write([new ClipboardItem({
    'text/html': new Blob([${JSON.stringify(html)}], { type: 'text/html' }),
    'text/plain': new Blob(['One two three'], { type: 'text/plain' }),
  })])`)
  await page.keyboard.press('Control+v')
  await expect(text(page, 'Text').locator('strong')).toHaveText('two')
  const kept = await text(page, 'Text').innerHTML()
  expect(kept).not.toMatch(/style=|MsoNormal|onclick|script|<h1/)
  await expect(text(page, 'Text')).toContainText('Big')
})

test('a text message is counted in parts as it is typed', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Text message:' }).click()
  await page.getByRole('link', { name: 'Write and preview' }).click()
  await page.getByLabel('Text', { exact: true }).fill('a'.repeat(160))
  await expect(page.getByText('(160 characters, 0 to the next)')).toBeVisible()
  await page.getByLabel('Text', { exact: true }).fill(`${'a'.repeat(100)}’`)
  await expect(page.getByText('2 parts')).toBeVisible()
  await expect(page.getByText(/“’” is not in the basic alphabet/)).toBeVisible()
  await expectAccessible(page)
})

test('a text message arrives on a phone, and the gateway says so', async ({ page }) => {
  await signIn(page)
  const send = (path: string, data: object) =>
    page.request.post(path, { headers: { origin: new URL(page.url()).origin }, data })
  const body = 'Order {{ order.number }}: {{ order.items | as: "names" }} is on its way.'
  const sms = { key: 't', kind: 'sms', name: 'On its way', purpose: 'transactional', body }
  const filter = { kind: 'field', field: 'customer.email', op: 'is', value: 'phone@example.org' }
  const definition = aDefinition({
    name: 'On the phone',
    // Only for the one person of this test, so that what it sends gets in no other test's way.
    trigger: { kind: 'event', event: 'order.placed', filter } as never,
    steps: [sms as never],
  })
  const made = await send('/api/workflows', { definition })
  const { id } = (await made.json()) as { id: string }
  expect((await send(`/api/workflows/${id}/go-live`, { revision: 0 })).ok()).toBe(true)

  await goTo(page, 'Settings')
  await page.getByLabel('Name of the new key').fill('phone shop')
  await page.getByRole('button', { name: 'Make a key' }).click()
  const key = await page.getByTestId('new-key').textContent()
  const clock = (await (await page.request.get('/api/clock')).json()) as { now: number }
  const who = { email: 'phone@example.org', phone: '+351912345678' }
  // A product that is there already: one more of the same name would be in other tests' way.
  const brush = { productId: 'p-brush', title: 'Bee brush', category: 'Tools & smokers', quantity: 1, unitPriceMinor: 750 } // prettier-ignore
  const order = { id: 'ph1', number: 'PH1', customerId: 'phone', lines: [brush] }
  const posted = await page.request.post('/v1/events', {
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/cloudevents+json' },
    data: JSON.stringify({ ...orderEvent('order.placed', clock.now, order, who), id: 'phone-1' }),
  })
  expect(posted.ok()).toBe(true)

  await goTo(page, 'Mailbox')
  await page.getByRole('link', { name: /Order PH1: .* is on its way\./ }).click()
  await expect(page.getByRole('heading', { name: 'Text message to +351912345678' })).toBeVisible()
  await expect(page.getByText('1 part', { exact: true })).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('link', { name: 'Why was this sent?' }).click()
  await expect(page.getByRole('heading', { name: /in On the phone/ })).toBeVisible()
})

test('the brand is changed, seen and kept; the shop’s notices and coupons are there', async ({
  page,
}) => {
  await signIn(page)
  await goTo(page, 'Settings')
  await page.getByRole('link', { name: /Brand/ }).click()
  await page.getByLabel('Name, in place of a logo').fill('Combwright & Daughters')
  await expect(seen(page).getByText('Combwright & Daughters').first()).toBeVisible()
  await page.getByLabel('Words on buttons').fill('#8a9a98')
  await expect(page.getByText(/What stands on buttons is hard to read/)).toBeVisible()
  await page.getByRole('button', { name: 'As it was' }).click()
  await expect(page.getByLabel('Name, in place of a logo')).toHaveValue('Combwright')
  await page.getByLabel('Footer').fill('Bees and more')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Footer')).toHaveValue('Bees and more')
  await expectAccessible(page)
  await page.getByRole('link', { name: 'Settings' }).last().click()
  await expect(page.getByRole('region', { name: 'The shop’s own notices' })).toContainText('Order confirmation') // prettier-ignore
  await goTo(page, 'Coupons')
  await expect(page.getByRole('heading', { name: 'Coupons', exact: true })).toBeVisible()
  await expectAccessible(page)
  await moveClock(page, '+1 h')
})
