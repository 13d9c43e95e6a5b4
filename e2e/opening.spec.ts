import { expect, test } from '@playwright/test'
import { signIn } from './support.ts'

test('the address that is printed opens, signed out and in, and so does any other of the application', async ({
  page,
}) => {
  expect((await page.goto('/'))?.status()).toBe(200)
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  await signIn(page)
  expect((await page.goto('/'))?.status()).toBe(200)
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
  expect((await page.goto('/workflows/nobody'))?.status()).toBe(200)
  expect((await page.goto('/mistyped'))?.status()).toBe(404)
  await expect(page.getByText('There is no such page.')).toBeVisible()
  // A probe is told by an answer, and is shown no page.
  const probed = await page.request.get('/health')
  expect([probed.status(), probed.headers()['content-type']]).toEqual([
    404,
    'application/problem+json; charset=utf-8',
  ])
})

test('while somebody types, the server is asked once for what stands there in the end', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/ledger')
  const asked: string[] = []
  page.on('request', (request) => {
    const url = new URL(request.url())
    const search = url.searchParams.get('search')
    if (url.pathname === '/api/ledger' && search !== null) asked.push(search)
  })
  const answered = page.waitForResponse((response) => response.url().includes('search=swarm'))
  await page.getByLabel('Search the ledger').pressSequentially('swarm', { delay: 20 })
  await answered
  expect([...new Set(asked)]).toEqual(['swarm'])
})
