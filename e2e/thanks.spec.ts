import { expect, test, type Page } from '@playwright/test'
import { goLive, goTo, moveClock, placeOrder, signIn } from './support.ts'

/** Opens the menu of the "+" at a place of the timetable and picks a kind of step. */
async function add(page: Page, place: string, kind: 'Email' | 'Wait' | 'Split' | 'End') {
  await page.locator(`[data-place="${place}"]`).click()
  await page.getByRole('option', { name: `${kind}:` }).click()
}

async function addExclusion(page: Page, number: number, event: string) {
  await page.getByRole('button', { name: 'Add exclusion' }).click()
  const exclusion = page.getByRole('region', { name: `Exclusion ${number}` })
  await exclusion.getByLabel('Event').selectOption({ label: event })
}

async function writeMail(page: Page, name: string, subject: string, text: string) {
  await page.getByLabel('Name, for you and colleagues').fill(name)
  await page.getByLabel('Subject', { exact: true }).fill(subject)
  await page.getByLabel('From', { exact: true }).selectOption('maren@combwright.example')
  await page.getByLabel('Name shown').fill('Maren')
  await page.getByLabel('Purpose').selectOption('transactional')
  await page.getByLabel('Form').selectOption('plain')
  await page.getByLabel('Text', { exact: true }).fill(text)
}

/**
 * From nothing, through the interface alone: order placed; leave if cancelled or refunded; first
 * order → 20 minutes → thank you; second order → another; later ones get nothing.
 */
async function buildThanks(page: Page) {
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Thanks from Maren')
  await page.getByRole('button', { name: /^Leaves before any message if/ }).click()
  await addExclusion(page, 1, 'order cancelled')
  await addExclusion(page, 2, 'order refunded')
  await add(page, 'root:0', 'Split')
  await page.getByRole('button', { name: 'Add a path' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Second order')
  for (const [branch, name, subject] of [
    ['split-1/branch-1', 'Thank you', 'Thank you for your first order'],
    ['split-1/branch-2', 'Second thanks', 'Thank you for coming back'],
  ] as const) {
    await add(page, `${branch}:0`, 'Wait')
    await page.getByLabel('How long: unit').selectOption('minutes')
    await page.getByLabel('How long', { exact: true }).fill('20')
    await add(page, `${branch}:1`, 'Email')
    await writeMail(
      page,
      name,
      subject,
      'Hello {{ customer.first_name | default: "there" }},\n\nthank you.\n\nMaren',
    )
  }
  await expect(page.getByTestId('no-findings')).toBeVisible()
  await goLive(page)
  await expect(page.getByText('Version 1 is live.')).toBeVisible()
}

/** The shop time twenty minutes on, as the mailbox shows it: "Tue 14 Apr 2026 · 10:40". */
function twentyMinutesAfter(shopTime: string): string {
  return shopTime.replace(/(\d\d):(\d\d)$/, (_time, hours: string, minutes: string) => {
    const later = Number(hours) * 60 + Number(minutes) + 20
    const two = (value: number) => String(value).padStart(2, '0')
    return `${two(Math.floor(later / 60))}:${two(later % 60)}`
  })
}

const mails = (page: Page) => page.getByRole('region', { name: 'Mails' }).getByRole('listitem')

test('a workflow built by hand sends exactly the right mails', async ({ page }) => {
  await signIn(page)
  await buildThanks(page)

  const placedAt = await page.getByLabel('Shop time').textContent()
  await placeOrder(page, { email: 'rosa@example.org', firstName: 'Rosa', isNew: true })
  await moveClock(page, '+30 min')
  await moveClock(page, '+1 h')
  await placeOrder(page, { email: 'rosa@example.org', isNew: false })
  await moveClock(page, '+1 h')
  await placeOrder(page, { email: 'rosa@example.org', isNew: false })
  const refunded = await placeOrder(page, {
    email: 'tom@example.org',
    firstName: 'Tom',
    isNew: true,
  })
  await page.getByRole('button', { name: `Pay order ${refunded}`, exact: true }).click()
  await page.getByRole('button', { name: `Refund order ${refunded}`, exact: true }).click()
  await expect(
    page.getByRole('row', { name: new RegExp(`^${refunded}`) }).getByText('refunded'),
  ).toBeVisible()
  await moveClock(page, '+1 d')

  await goTo(page, 'Mailbox')
  await page.getByLabel('Search mails').fill('rosa@example.org')
  await expect(mails(page)).toHaveCount(2)
  await expect(mails(page).nth(0)).toContainText('Thank you for coming back')
  await expect(mails(page).nth(1)).toContainText('Thank you for your first order')
  await mails(page).nth(1).click()
  const mail = page.getByRole('region', { name: 'The mail' })
  await expect(mail).toContainText('Hello Rosa,')
  await expect(mail).toContainText('maren@combwright.example')
  await expect(mail).toContainText(twentyMinutesAfter(placedAt ?? ''))
  await page.getByLabel('Search mails').fill('tom@example.org')
  await expect(page.getByText('Nothing found.')).toBeVisible()

  await goTo(page, 'Ledger')
  await page.getByLabel('Search the ledger').fill(refunded)
  await page
    .getByRole('link', { name: /^Left before “Thank you”: order refunded on 14 April, \d\d:\d\d$/ })
    .click()
  await expect(page.getByRole('heading', { name: 'Tom in Thanks from Maren' })).toBeVisible()
  await expect(page.getByText('left by an exclusion')).toBeVisible()
})

test('the same over HTTP, with events out of order and twice', async ({ page, request }) => {
  await signIn(page)
  await goTo(page, 'Settings')
  await page.getByLabel('Name of the new key').fill('web shop')
  await page.getByRole('button', { name: 'Make a key' }).click()
  const key = await page.getByTestId('new-key').textContent()
  const clock = (await (await page.request.get('/api/clock')).json()) as { now: number }

  const event = (type: string, order: number, minutesAgo: number, customerId: string) => ({
    specversion: '1.0',
    id: `${type}-${order}`,
    source: '/web-shop',
    type,
    time: new Date(clock.now - minutesAgo * 60_000).toISOString(),
    data: {
      order: {
        id: `web-${order}`,
        number: `W${order}`,
        customerId,
        currency: 'EUR',
        totalMinor: 750,
        lines: [
          {
            productId: 'p-brush',
            title: 'Bee brush',
            category: 'Tools & smokers',
            quantity: 1,
            unitPriceMinor: 750,
          },
        ],
      },
      customer: {
        id: customerId,
        email: `${customerId}@example.net`,
        firstName: 'Web',
        emailConsent: true,
      },
    },
  })
  const first = event('order.placed', 1, 9, 'web-ana')
  const second = event('order.placed', 2, 6, 'web-ana')
  const third = event('order.placed', 3, 3, 'web-ana')
  const other = event('order.placed', 4, 8, 'web-ben')
  const refund = event('order.refunded', 4, 2, 'web-ben')
  const post = (events: unknown[]) =>
    request.post('/v1/events', {
      headers: {
        authorization: `Bearer ${key}`,
        'content-type': 'application/cloudevents-batch+json',
      },
      data: JSON.stringify(events),
    })
  const answer = await post([
    third,
    refund,
    first,
    third,
    { ...first, id: '', time: 'soon' },
    other,
    second,
  ])
  expect(answer.status()).toBe(207)
  expect(await answer.json()).toMatchObject({ accepted: 5, duplicates: 1, refused: 1 })
  expect(await (await post([first, second, third])).json()).toMatchObject({
    accepted: 0,
    duplicates: 3,
  })

  await moveClock(page, '+1 h')
  await goTo(page, 'Mailbox')
  await page.getByLabel('Search mails').fill('web-ana@example.net')
  await expect(mails(page)).toHaveCount(2)
  await expect(mails(page).nth(1)).toContainText('first order')
  await expect(mails(page).nth(0)).toContainText('coming back')
  await page.getByLabel('Search mails').fill('web-ben@example.net')
  await expect(page.getByText('Nothing found.')).toBeVisible()
  await goTo(page, 'Ledger')
  await page.getByLabel('Search the ledger').fill('W4')
  const left = page.getByRole('row', { name: /W4/ }).getByRole('link', { name: /^Left before/ })
  await expect(left).toHaveText(/“Thank you”: order refunded on/)
})
