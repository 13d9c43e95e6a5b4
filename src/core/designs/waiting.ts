import { button, columns, heading, linkTo, lists, NAME, says, type Design } from './design.ts'

export const renewal: Design = {
  key: 'renewal',
  name: 'Renewal',
  hint: 'some days before a subscription renews',
  about: ['subscription'],
  make: (shop) => ({
    subject: 'Your {{ subscription.title }} renews on {{ subscription.next_payment_on }}',
    previewText: 'Nothing to do if all is well. This is how to change or stop it.',
    blocks: [
      heading('title', 'It renews soon', { band: 'tint', size: 'large', above: 'large', below: 'small' }),
      says('when', ['On *{{ subscription.next_payment_on }}*. If all is well, there is nothing to do.'], { band: 'tint', size: 'large', above: 'none', below: 'large' }),
      { key: 'items', kind: 'items', prices: true, images: true, style: { above: 'large' } },
      columns('choices', [
        [heading('keep-title', 'Keep it', { below: 'small' }, 2), says('keep', ['Then it goes on as it is. You get a receipt on the day.'], { size: 'small' })],
        [heading('change-title', 'Change or stop it', { below: 'small' }, 2), says('change', ['Until the day before, in two clicks, without giving a reason.'], { size: 'small' }), button('manage', 'Change it', linkTo('subscription.url', shop), { button: 'outlined', size: 'small' })],
      ]),
      { key: 'help', kind: 'help', text: `Questions, ${NAME}? Answer this mail, or write to`, style: { ink: 'quiet', above: 'small', below: 'none' } },
    ],
  }),
} // prettier-ignore

export const openCheckout: Design = {
  key: 'open-checkout',
  name: 'Open checkout',
  hint: 'an hour or a day after somebody left a checkout',
  about: ['checkout'],
  make: (shop) => ({
    subject: 'We kept your things together',
    previewText: 'Everything is still there, exactly as you left it.',
    blocks: [
      heading('title', 'Still thinking about it?', { align: 'center', size: 'large', above: 'large' }),
      says('kept', [`That is fine, ${NAME}. We kept everything together for you.`], { align: 'center', below: 'medium' }),
      { key: 'items', kind: 'items', prices: true, images: true, variants: true },
      button('back', 'Back to your things', linkTo('checkout.url', shop), { width: 'full', size: 'large', above: 'small', below: 'large' }),
      heading('doubts', 'If something holds you back', { band: 'tint', below: 'small' }, 2),
      lists('reasons', ['*Is it the right one?* Answer this mail; somebody who uses it will tell you.', '*What if it does not fit?* 30 days to send it back.', '*What does the parcel cost?* You see it before you pay, and it never grows after.'], { style: { band: 'tint', above: 'none' } }),
      says('last', ['Changed your mind? Then do nothing: we write once more at most.'], { size: 'small', ink: 'quiet', align: 'center', above: 'medium', below: 'none' }),
    ],
  }),
} // prettier-ignore
