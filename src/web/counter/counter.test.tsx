import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import { placeOrderBody, type CounterOrder, type CounterProduct } from '../../contract/counter.ts'
import { refusal, show, type Answers } from '../testing/screen.tsx'
import { CounterPage } from './CounterPage.tsx'

const product = (id: string, title: string, priceMinor: number): CounterProduct => ({
  id,
  title,
  category: 'Tools & smokers',
  priceMinor,
  currency: 'EUR',
})
const PRODUCTS = [product('p1', 'Hive tool', 1250), product('p2', 'Bee brush', 650)]
const EDITH = {
  id: 'c1',
  name: 'Edith Moran',
  email: 'edith@example.org',
  country: 'IE',
  orders: 1,
}
const NAMELESS = { ...EDITH, id: 'c2', name: '', email: 'ines@example.org', orders: 3 }
const SUBSCRIPTION = {
  id: 's/1',
  customer: 'Edith Moran',
  title: 'Feed Club',
  status: 'running',
  nextPaymentAt: 0,
}
const order = (number: string, status: CounterOrder['status']): CounterOrder => ({
  id: `o/${number}`,
  number,
  customer: 'Edith Moran',
  status,
  totalMinor: 8400,
  currency: 'EUR',
  items: 3,
  at: 0,
})

async function open(answers: Answers = {}) {
  const asked = show(<CounterPage />, {
    '/api/counter/products': PRODUCTS,
    '/api/counter/customers': [EDITH, NAMELESS],
    '/api/counter/subscriptions': [SUBSCRIPTION],
    '/api/counter/events': [
      { seq: 1, at: 0, what: 'checkout started', customer: 'Edith Moran', about: '€84.00' },
    ],
    'GET /api/counter/orders': [order('1042', 'placed')],
    ...answers,
  })
  await screen.findByText('Bee brush')
  await screen.findByText('1042')
  const posts = () => asked.filter(({ method }) => method === 'POST')
  return { asked, posts }
}

const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }))
const place = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Place the order/ })

describe('an order is placed', () => {
  test('for somebody the shop knows', async () => {
    const { asked, posts } = await open({ 'POST /api/counter/orders': { number: '1043' } })
    expect(place().disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Search customers'), { target: { value: 'edi' } })
    await waitFor(() =>
      expect(asked.some(({ path }) => path.endsWith('customers?search=edi'))).toBe(true),
    )
    // Who has no name is known by the address.
    expect(await screen.findByText('ines@example.org')).toBeDefined()
    press(/^Edith Moran/)
    press('Add Hive tool')
    press('Add Hive tool')
    press('Add Bee brush')
    press('One less Bee brush')
    expect(place().textContent).toBe('Place the order€25.00')
    await userEvent.type(screen.getByLabelText('Coupon code, if any'), 'SPRING-7')
    fireEvent.click(place())
    expect(await screen.findByText('Order 1043 is placed.')).toBeDefined()
    expect(posts().map(({ body }) => placeOrderBody.parse(body))).toEqual([
      { customer: { id: 'c1' }, lines: [{ productId: 'p1', quantity: 2 }], code: 'SPRING-7' },
    ])
    // The next one begins with an empty basket.
    expect(place().disabled).toBe(true)
    expect(screen.queryByRole('button', { name: 'One less Hive tool' })).toBeNull()
  })

  test('for somebody new, once the address is one', async () => {
    const { posts } = await open({ 'POST /api/counter/orders': { number: '1044' } })
    press('Add Bee brush')
    press('Somebody new')
    const address = screen.getByLabelText('Email address')
    await userEvent.type(address, 'aoife')
    expect(place().disabled).toBe(true)
    await userEvent.type(address, '@example.org')
    await userEvent.type(screen.getByLabelText('First name'), 'Aoife')
    fireEvent.click(screen.getByLabelText('agrees to marketing by email'))
    press('Somebody new')
    fireEvent.click(place())
    expect(await screen.findByText('Order 1044 is placed.')).toBeDefined()
    expect(posts()[0]?.body).toMatchObject({
      customer: { email: 'aoife@example.org', firstName: 'Aoife', emailConsent: false },
    })
    // Who was chosen before is not meant any more.
    press('Known customer')
    press('Add Bee brush')
    expect(place().disabled).toBe(true)
  })

  test('what is in the way is said, and the basket stays', async () => {
    const refused = () =>
      refusal(400, 'This order cannot be placed.', { code: 'There is no code “SPRING”.' })
    await open({ 'POST /api/counter/orders': refused })
    await screen.findByText('Edith Moran', { selector: 'button span' })
    press(/^Edith Moran/)
    press('Add Bee brush')
    fireEvent.click(place())
    const alert = await screen.findByRole('alert')
    expect(alert.textContent).toBe('This order cannot be placed.There is no code “SPRING”.')
    expect(screen.getByRole('button', { name: 'One less Bee brush' })).toBeDefined()
  })

  test('products are found by words; what is in the basket stays in sight', async () => {
    await open()
    press('Add Bee brush')
    fireEvent.change(screen.getByLabelText('Search products'), { target: { value: 'HIVE' } })
    const titles = () =>
      screen.getAllByText(/^(Hive tool|Bee brush)$/).map((one) => one.textContent)
    expect(titles()).toEqual(['Bee brush', 'Hive tool'])
    press('One less Bee brush')
    expect(titles()).toEqual(['Hive tool'])
    fireEvent.change(screen.getByLabelText('Search products'), { target: { value: 'wellies' } })
    expect(screen.getByText('No such product.')).toBeDefined()
  })
})

describe('what becomes of an order', () => {
  test('each state offers what can come next', async () => {
    const states = ['placed', 'payment_due', 'paid', 'preparing', 'fulfilled', 'delivered', 'cancelled', 'refunded'] as const // prettier-ignore
    await open({
      'GET /api/counter/orders': [
        order('1042', 'placed'),
        ...states.map((state, index) => order(String(index), state)),
      ],
    })
    const rows = screen.getAllByRole('row').slice(2, 2 + states.length)
    const offered = rows.map((row) =>
      within(row).queryAllByRole('button').map(({ textContent }) => textContent),
    ) // prettier-ignore
    expect(offered).toEqual([
      ['Pay', 'Fail payment', 'Cancel'],
      ['Pay', 'Cancel'],
      ['Prepare', 'Fulfil', 'Problem', 'Refund', 'Cancel'],
      ['Fulfil', 'Problem', 'Refund', 'Cancel'],
      ['Deliver', 'Close', 'Refund'],
      ['Close', 'Refund'],
      ['Refund'],
      [],
    ])
  })

  test('it is told to the shop, and the list is asked for again', async () => {
    let status: CounterOrder['status'] = 'placed'
    const { posts } = await open({
      'GET /api/counter/orders': () => [order('1042', status)],
      'POST /api/counter/orders/o%2F1042/events': () => {
        status = 'paid'
        return new Response(null, { status: 204 })
      },
    })
    const pay = screen.getByRole('button', { name: 'Pay order 1042' })
    pay.focus()
    fireEvent.click(pay)
    expect(await screen.findByRole('button', { name: 'Fulfil order 1042' })).toBeDefined()
    // What is pressed once more happens to no other order.
    expect(document.activeElement?.closest('tr')?.textContent).toContain('1042')
    expect(posts()[0]?.body).toEqual({ action: 'paid' })
  })

  test('what cannot happen any more says why', async () => {
    const refused = () => refusal(409, 'It is paid already.')
    await open({ 'POST /api/counter/orders/o%2F1042/events': refused })
    press('Pay order 1042')
    expect(await screen.findByText('It is paid already.')).toBeDefined()
  })
})

describe('what else can happen', () => {
  const choose = async () => {
    fireEvent.click(await screen.findByText('Edith Moran', { selector: 'button *' }))
    press('Add Bee brush')
  }
  test.each([
    ['Leave a basket', { kind: 'basket' }],
    ['Leave a checkout open', { kind: 'checkout' }],
    ['Look at the first', { kind: 'view' }],
    ['Subscribe to the first', { kind: 'subscription' }],
    ['Write the review', { kind: 'review', stars: 5 }],
  ])('%s', async (name, happening) => {
    const { posts } = await open({ 'POST /api/counter/happenings': new Response(null, { status: 204 }) }) // prettier-ignore
    await choose()
    fireEvent.click(screen.getByText('Or something else happens'))
    press(name)
    await waitFor(() => expect(posts()[0]?.body).toMatchObject({ ...happening, customer: { id: 'c1' }, lines: [{ productId: 'p2', quantity: 1 }] })) // prettier-ignore
  })

  test.each([
    ['Signs up', 'signsUp'],
    ['Details change', 'detailsChange'],
    ['Says yes to marketing', 'saysYes'],
    ['Says no', 'saysNo'],
  ])('%s: with the customer alone, whatever is in the basket', async (name, kind) => {
    const { posts } = await open({ 'POST /api/counter/happenings': new Response(null, { status: 204 }) }) // prettier-ignore
    fireEvent.click(await screen.findByText('Edith Moran', { selector: 'button *' }))
    fireEvent.click(screen.getByText('Or something else happens'))
    expect(screen.getByRole('button', { name: 'Leave a basket' })).toHaveProperty('disabled', true)
    press(name)
    await waitFor(() => expect(posts()[0]?.body).toEqual({ kind, customer: { id: 'c1' } }))
  })

  test('a subscription is renewed, and what came in last is told', async () => {
    const { posts } = await open({ 'POST /api/counter/subscriptions/s%2F1/events': new Response(null, { status: 204 }) }) // prettier-ignore
    expect(await screen.findByText('checkout started')).toBeDefined()
    fireEvent.click(await screen.findByRole('button', { name: 'Renew: Feed Club of Edith Moran' }))
    await waitFor(() => expect(posts()[0]?.body).toEqual({ action: 'renewed' }))
  })
})
