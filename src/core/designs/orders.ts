import { button, columns, heading, linkTo, lists, NAME, says, type Design } from './design.ts'

export const confirmation: Design = {
  key: 'confirmation',
  name: 'Order confirmation',
  hint: 'at once, when an order has come in',
  about: ['order'],
  make: (shop) => ({
    subject: 'Your order {{ order.number }} is with us',
    previewText: 'What you ordered, what it came to, and what happens next.',
    blocks: [
      heading('thanks', `Thank you, ${NAME}`, { band: 'accent', align: 'center', size: 'large', above: 'large', below: 'small' }),
      says('number', ['Order {{ order.number }}, {{ order.placed_on | default: "today" }}'], { band: 'accent', align: 'center', ink: 'quiet', above: 'none', below: 'large' }),
      says('hello', ['We have everything we need and will write again when your parcel leaves the house.'], { above: 'large', below: 'medium', size: 'large' }),
      { key: 'items', kind: 'items', prices: true, images: true, variants: true, style: { below: 'small' } },
      { key: 'summary', kind: 'summary', addresses: true, style: { below: 'medium' } },
      button('order', 'See your order', linkTo('order.url', shop), { below: 'large' }),
      columns(
        'next',
        [
          [
            heading('next-title', 'What happens next', { below: 'small' }, 2),
            lists('next-steps', ['We pack it, mostly within a day', 'You get a link to follow it', 'It is at your door'], { ordered: true, style: { size: 'small' } }),
          ],
          [
            heading('wrong-title', 'Something not right?', { below: 'small' }, 2),
            says('wrong', ['Just answer this mail. As long as it is not packed, we can change or cancel it.'], { size: 'small' }),
          ],
        ],
        { style: { band: 'tint' } },
      ),
      { key: 'help', kind: 'help', text: 'Questions? Answer this mail, or write to', style: { align: 'center', ink: 'quiet', above: 'medium', below: 'none' } },
    ],
  }),
} // prettier-ignore

export const dispatch: Design = {
  key: 'dispatch',
  name: 'On its way',
  hint: 'when the parcel has left',
  about: ['order'],
  make: () => ({
    subject: 'Order {{ order.number }} is on its way',
    previewText: 'Packed, taped and handed over. Here is where it is.',
    blocks: [
      heading('left', 'It has left the house', { band: 'tint', size: 'huge', above: 'large', below: 'small' }),
      says('what', [`Hello ${NAME}, order {{ order.number }} is packed, taped and with the carrier.`], { band: 'tint', above: 'none', below: 'small' }),
      { key: 'tracking', kind: 'tracking', label: 'See where it is', style: { band: 'tint', above: 'small', below: 'large' } },
      heading('in-it', 'In this parcel', { above: 'large', below: 'small' }, 2),
      { key: 'items', kind: 'items', prices: false, images: true, variants: true, grid: true },
      { key: 'line', kind: 'divider', style: { line: 'short' } },
      columns('notes', [
        [heading('home-title', 'Not at home?', { below: 'small', size: 'small' }, 2), says('home', ['The carrier leaves a card and tries once more the next working day.'], { size: 'small', ink: 'quiet' })],
        [heading('broken-title', 'Something broken?', { below: 'small', size: 'small' }, 2), says('broken', ['Send us a picture within 14 days. We put it right first and ask questions later.'], { size: 'small', ink: 'quiet' })],
      ]),
    ],
  }),
} // prettier-ignore

export const payment: Design = {
  key: 'payment',
  name: 'Payment trouble',
  hint: 'when a payment has failed',
  about: ['order'],
  make: (shop) => ({
    subject: 'Your payment for order {{ order.number }} did not go through',
    previewText: 'Nothing is lost: your order is kept, and it takes a minute to try again.',
    blocks: [
      heading('title', 'Your payment did not go through', { above: 'medium' }),
      says('why', [`Hello ${NAME},`, 'the payment of *{{ order.total }}* for order {{ order.number }} was refused. Banks do that for many reasons, most of them harmless. Nothing is lost: we keep your order for you.'], { below: 'medium' }),
      button('again', 'Try again, or pay another way', linkTo('order.url', shop), { width: 'full', size: 'large', below: 'medium' }),
      lists('hints', ['Has the card run out, or is there a limit on it?', 'Does your bank ask you to confirm it in its app?', 'Or take another way to pay: all of them are open to you.'], { style: { size: 'small', ink: 'quiet', below: 'medium' } }),
      heading('kept', 'What we keep for you', { band: 'tint', above: 'medium', below: 'small', size: 'small' }, 2),
      { key: 'items', kind: 'items', prices: true, images: true, variants: true, style: { band: 'tint', above: 'none', below: 'none' } },
      { key: 'summary', kind: 'summary', style: { band: 'tint', above: 'none', below: 'medium' } },
      { key: 'help', kind: 'help', text: 'If it fails again, answer this mail and we find a way together, or write to', style: { above: 'medium', below: 'none' } },
    ],
  }),
} // prettier-ignore
