import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './support.ts'

test('people are asked about, kept as a segment, put on a list; one is looked at and kept quiet', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/people')
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await expect(
    page.getByRole('region', { name: 'People found' }).getByRole('status').first(),
  ).toContainText('of')
  await page.getByLabel('Name of the segment').fill('Said yes')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Said yes' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
  await expectAccessible(page)
  await page.getByLabel('Do with all of them').selectOption('list add')
  await page.getByLabel('Which list').fill('spring letter')
  await page.getByRole('button', { name: /^For \d/ }).click()
  await expect(
    page.getByRole('region', { name: 'Lists' }).getByRole('button', { name: /spring letter/ }),
  ).toBeVisible()

  await page.getByRole('table').getByRole('link').first().click()
  await expect(page.getByRole('region', { name: 'Lists, tags, segments' })).toContainText(
    'spring letter',
  )
  await expect(page.getByRole('region', { name: 'Lists, tags, segments' })).toContainText(
    'Said yes',
  )
  await expectAccessible(page)
  await page.getByRole('button', { name: 'No marketing until …' }).click()
  await page.getByRole('button', { name: 'Be quiet' }).click()
  await expect(page.getByText('No marketing until', { exact: false }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Done by hand' }).click()
  await expect(page.getByRole('list', { name: 'Time line' })).toContainText('asked for quiet until')
})

test('a file of orders is brought in by hand, and undone', async ({ page }) => {
  await signIn(page)
  await page.goto('/people')
  await page.getByRole('link', { name: 'Files', exact: true }).click()
  const rows = [
    'Order Number;Date;Email;First Name;Total;Product;Quantity',
    'Z-1;03.02.2026;zoe.file@example.org;Zoë;12,50;Bee brush;1',
    'Z-2;31.02.2026;zoe.file@example.org;Zoë;12,50;Bee brush;1',
  ]
  await page
    .getByLabel('Bring in a file')
    .setInputFiles({ name: 'year.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) })
  const tried = page.getByRole('region', { name: 'What it would come to' })
  await expect(tried.getByRole('status')).toHaveText('1 new, 1 row refused.')
  await expect(tried).toContainText('must be a date')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Bring it in', exact: true }).click()
  await expect(page.getByText('1 new, 1 row refused')).toBeVisible()
  await page.goto('/people?search=zoe.file')
  await expect(page.getByRole('link', { name: /Zoë/ })).toBeVisible()
  await page.goto('/people/files')
  await page.getByRole('link', { name: 'year.csv' }).click()
  await page.getByRole('button', { name: 'Undo it' }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Undo it' }).click()
  await expect(page.getByText('undone')).toBeVisible()
  await page.goto('/people?search=zoe.file')
  await expect(page.getByText('Nobody like that.')).toBeVisible()
})

test('a body in another language is kept, mapped beside it, and replayed once the mapping is mended', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/settings/connections')
  await page.getByLabel('Name of the connection').fill('Market till')
  await page.getByRole('button', { name: 'Add a connection' }).click()
  const made = page.getByRole('region', { name: 'The new address' })
  const address = new URL((await made.locator('code').innerText()).trim())
  const sent = await page.request.post(address.pathname, {
    data: { nr: 7, mail: 'market@example.org', said: true, on: '2026-04-01T10:00:00Z' },
  })
  expect(sent.status()).toBe(202)
  await made.getByRole('link').click()
  await expect(page.getByRole('region', { name: 'What came' })).toContainText('is not written yet')
  const mapping = page.getByLabel('A JSONata expression that gives one event, or a list of them')
  await mapping.fill(
    '{ "type": "consent.changed", "time": on, "data": { "consent": { "customerId": "m-" & nr, "channel": "post", "given": said, "how": "market stall" } } }',
  )
  await expect(page.getByRole('region', { name: 'Mapping' })).toContainText(
    '0.data.consent.channel',
  )
  await mapping.fill(
    '{ "type": "consent.changed", "time": on, "data": { "consent": { "customerId": "m-" & nr, "channel": "email", "given": said, "how": "market stall" }, "customer": { "id": "m-" & nr, "email": mail } } }',
  )
  await expect(page.getByText('Makes 1 event:')).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Save the mapping' }).click()
  await page.getByRole('button', { name: 'Map what was refused once more' }).click()
  await expect(page.getByRole('region', { name: 'What came' })).toContainText('taken in')
  await page.goto('/people?search=market@example.org')
  await expect(page.getByRole('table').getByRole('link')).toHaveCount(1)
})

test('workflows are taken out as one file, which says what would come of bringing it in', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/people/files')
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'All workflows' }).click()
  const path = await (await download).path()
  await page.getByLabel('Bring in workflows').setInputFiles({ name: 'workflows.zip', mimeType: 'application/zip', buffer: readFileSync(path) }) // prettier-ignore
  await expect(page.getByText(/^Would come from .*: \d+ drafts/)).toBeVisible()
  await expectAccessible(page)
  // The other tests have the shop to themselves: nothing is brought in.
  await page.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByText(/^Would come from/)).toBeHidden()
})
