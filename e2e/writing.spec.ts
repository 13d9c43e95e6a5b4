import { expect, test, type Page } from '@playwright/test'
import { DESIGNS } from '../src/core/designs/index.ts'
import type { Preview } from '../src/contract/messages.ts'
import { expectAccessible, openNewEmail, signIn } from './support.ts'

/** A new workflow with one designed email, opened to be written. */
async function write(page: Page, name: string): Promise<void> {
  await openNewEmail(page, name)
  await page.getByText('Sender, purpose, recipients').click()
  await page.getByLabel('Form', { exact: true }).selectOption('designed')
  await page.getByText('Sender, purpose, recipients').click()
}

async function takeDesign(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Designs', exact: true }).click()
  await page.getByRole('button', { name: `Take ${name}`, exact: true }).click()
}

/** What the reader sees, and what is written on. */
const seen = (page: Page) => page.frameLocator('iframe[title="The message"]')

test('a message is written on where it stands, by mouse and by keyboard', async ({ page }) => {
  await write(page, 'Written on')
  await page.getByRole('button', { name: 'Designs', exact: true }).click()
  await expect(page.frameLocator('iframe[title="Order confirmation"]').getByText('Thank you')).toBeVisible() // prettier-ignore
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Take Order confirmation', exact: true }).click()
  const message = seen(page)
  await message.getByRole('heading', { name: 'What happens next' }).click()
  const words = page.getByRole('textbox', { name: 'Words', exact: true })
  await expect(words).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('And now?')
  await expect(message.getByText('And now?')).toBeAttached()
  await expect(page.getByRole('toolbar', { name: 'Heading: And now?' })).toBeVisible()
  await expectAccessible(page)
  // The keyboard goes back to the block, where the keys of the list work.
  await words.press('Escape')
  const block = message.locator('.is-next-title')
  await expect(block).toBeFocused()
  const order = () => message.locator('.is-next-title, .is-next-steps').evaluateAll((all) => all.map(({ className }) => /is-([a-z-]+)/.exec(className)?.[1])) // prettier-ignore
  expect(await order()).toEqual(['next-title', 'next-steps'])
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(order).toEqual(['next-steps', 'next-title'])
  await expect(block).toBeFocused()
  await page.keyboard.press('Control+d')
  await expect(message.getByText('And now?')).toHaveCount(2)
  await page.keyboard.press('Delete')
  await expect(message.getByText('And now?')).toHaveCount(1)
  // The frame keeps no keys of the page to itself.
  await message.locator('.is-next-steps').focus()
  await page.keyboard.press('Control+z')
  await expect(message.getByText('And now?')).toHaveCount(2)
  // Dragged by its grip, past what stands above it.
  await message.locator('.is-next-steps').click()
  const grip = page.locator('[data-grip="next-steps"]')
  // The frame shows the message anew once it is rendered; until then nothing has a place in it.
  const places = async () => ({ from: await grip.boundingBox(), to: await message.locator('.is-next-title').first().boundingBox() }) // prettier-ignore
  await expect.poll(places).toEqual({ from: expect.anything(), to: expect.anything() })
  const { from, to } = await places()
  if (!from || !to) throw new Error('the blocks are not on the screen')
  await page.mouse.move(from.x + 10, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 10, from.y + 20, { steps: 3 })
  await page.mouse.move(to.x + 60, to.y + to.height - 4, { steps: 5 })
  await expect(page.locator('[data-drop]')).toHaveCount(1)
  const before = await order()
  await page.mouse.up()
  await expect.poll(order).not.toEqual(before)
  await page.keyboard.press('Escape')
  // How it looks is chosen beside it, and seen at once.
  await message.getByText('We have everything we need').click()
  await page
    .getByRole('group', { name: 'Background' })
    .getByRole('button', { name: 'Dark' })
    .click()
  await expect(message.locator('.of-hello.band-ink')).toBeAttached()
  await page.getByRole('button', { name: 'Narrow' }).click()
  expect((await page.locator('iframe[title="The message"]').boundingBox())?.width).toBe(375)
})

test('a design is kept, changed, and taken over by what was made of it', async ({ page }) => {
  await write(page, 'Design one')
  await takeDesign(page, 'Review request')
  await page.getByRole('button', { name: 'Keep as a design' }).click()
  await page.getByLabel('The design’s name').fill('Our review')
  await page.getByRole('button', { name: 'Keep', exact: true }).first().click()
  await expect(page.getByText('Made of “Our review”.')).toBeVisible()
  await expect(page.getByText('Draft saved')).toBeAttached()
  const first = page.url()
  // A second message of it, with a heading of its own.
  await write(page, 'Design two')
  await takeDesign(page, 'Our review')
  const message = seen(page)
  await message.getByText('How is it doing').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Well?')
  await expect(message.getByText('Well?')).toBeAttached()
  await expect(page.getByText('Draft saved')).toBeAttached()
  const second = page.url()
  // The first changes, and the design with it.
  await page.goto(first)
  await message.getByText('How is it doing').click()
  await page.getByRole('group', { name: 'Background' }).getByRole('button', { name: 'The accent' }).last().click()
  await page.getByRole('button', { name: 'Change the design like this' }).click()
  await expect(page.getByText('1 other message is asked to take it over')).toBeVisible()
  await page.getByRole('button', { name: 'Change it', exact: true }).click()
  await expect(page.getByText('“Our review” is changed.')).toBeVisible()
  await page.goto(second)
  await page.getByRole('button', { name: 'It has changed: see what that does here' }).click()
  await expect(page.getByText('The heading “Well?” looks different.')).toBeVisible()
  await page.getByRole('button', { name: 'Take it over' }).click()
  await expect(message.locator('.of-title.band-accent').getByText('Well?')).toBeAttached()
}) // prettier-ignore

test('a message is written in a further language', async ({ page }) => {
  await write(page, 'Two languages')
  await takeDesign(page, 'Order confirmation')
  await page.getByLabel('Add a language').selectOption('de')
  await expect(page.getByText('Still in English')).toBeVisible()
  const message = seen(page)
  await expect(message.getByText('Gesamt', { exact: true })).toBeVisible()
  await message.getByText('We have everything we need').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Wir haben alles.')
  await expect(message.getByText('Wir haben alles.')).toBeAttached()
  await page.getByRole('button', { name: 'English', exact: true }).click()
  await expect(message.getByText('We have everything we need')).toBeVisible()
  await expect(message.getByText('Total', { exact: true })).toBeVisible()
})

test('every design keeps within a phone, a mail program and a wide window; dark, enlarged, and without pictures', async ({
  page,
}) => {
  await signIn(page)
  for (const design of DESIGNS) {
    const made = design.make({ name: 'The shop', site: 'https://shop.example' })
    const trigger = { kind: 'event', event: design.about[0] === 'order' ? 'order.placed' : design.about[0] === 'checkout' ? 'checkout.started' : 'subscription.renewed' } // prettier-ignore
    const sender = { name: 'The shop', address: 'a@shop.example' }
    const message = [{ key: 'm', kind: 'email', name: 'm', purpose: 'marketing', format: 'designed', sender, body: '', ...made }] // prettier-ignore
    const answer = await page.request.post('/api/messages/preview', { data: { trigger, message, sample: null, tags: 'mustache' }, headers: { origin: new URL(page.url()).origin } }) // prettier-ignore
    const { html } = (await answer.json()) as Preview
    // Where nobody has had such a thing yet there is nothing to see.
    if (html === null) continue
    const variants = [
      html,
      html.replaceAll('(prefers-color-scheme: dark)', 'all'),
      html.replaceAll(/(<img\b[^>]*?)\ssrc="[^"]*"/g, '$1 src=""'),
      html.replaceAll(/font-size:(\d+)px/g, (_all, px: string) => `font-size:${Number(px) * 2}px`),
    ]
    for (const [index, variant] of variants.entries()) {
      for (const width of [320, 600, 1280]) {
        await page.setViewportSize({ width, height: 800 })
        await page.setContent(variant.replace('<head>', '<head><base href="about:blank">'))
        const needed = await page.evaluate<number>('document.documentElement.scrollWidth')
        expect(needed, `${design.key}, variant ${index}, ${width}`).toBeLessThanOrEqual(width)
      }
    }
  }
})
