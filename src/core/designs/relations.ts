import { button, columns, heading, linkTo, NAME, says, type Design } from './design.ts'

const number = (key: string, text: string) => heading(key, text, { ink: 'accent', size: 'huge', below: 'none' }) // prettier-ignore

export const careGuide: Design = {
  key: 'care-guide',
  name: 'Care guide',
  hint: 'some days after it arrived: how to get the best out of it',
  about: ['order'],
  make: (shop) => ({
    subject: 'Three things that keep it good for years',
    previewText: 'Two minutes to read, and it pays off the whole season.',
    blocks: [
      heading('title', 'Look after it, and it looks after you', { size: 'large', align: 'center', above: 'medium' }),
      says('intro', [`Hello ${NAME}, by now you have had it in your hands. Here is what we tell friends who buy the same.`], { align: 'center', below: 'large' }),
      columns('first', [[number('n1', '1')], [heading('t1', 'Before you first use it', { below: 'small' }, 2), says('x1', ['Say here what to check, clean or put together first. Two sentences are enough.'])]], { widths: [1, 6], phones: 'beside' }),
      columns('second', [[number('n2', '2')], [heading('t2', 'While you use it', { below: 'small' }, 2), says('x2', ['The one mistake that most people make in the first weeks, and how to get round it.'])]], { widths: [1, 6], phones: 'beside' }),
      columns('third', [[number('n3', '3')], [heading('t3', 'When you put it away', { below: 'small' }, 2), says('x3', ['How to clean and keep it, so that it is as good next season as it is today.'])]], { widths: [1, 6], phones: 'beside' }),
      button('guide', 'Read the whole guide', `${shop.site}/guides`, { align: 'center', above: 'medium', below: 'large' }),
      heading('yours', 'What this is about', { band: 'tint', size: 'small', below: 'small' }, 2),
      { key: 'items', kind: 'items', prices: false, images: true, style: { band: 'tint', above: 'none' } },
      { key: 'help', kind: 'help', text: 'Not sure about something? Ask before you guess:', style: { above: 'medium', below: 'none', align: 'center', ink: 'quiet' } },
    ],
  }),
} // prettier-ignore

export const review: Design = {
  key: 'review',
  name: 'Review request',
  hint: 'when it has been used for a while',
  about: ['order'],
  make: (shop) => ({
    subject: 'How is it doing?',
    previewText: 'A line from you helps the next one who stands before the same choice.',
    blocks: [
      heading('title', `How is it doing, ${NAME}?`, { size: 'large', align: 'center', above: 'large' }),
      says('ask', ['You have had it for a while now. Would you tell others how it is? Good or bad, two sentences help more than any picture of ours.'], { align: 'center', below: 'medium' }),
      { key: 'items', kind: 'items', prices: false, images: true, grid: true, style: { align: 'center', below: 'small' } },
      button('write', 'Write a review', linkTo('order.url', shop), { width: 'half', align: 'center', corners: 'pill', below: 'large' }),
      says('trouble', ['*Something not as it should be?* Then do not write a review, write to us: we want to put it right first. Answering this mail is enough.'], { band: 'ground', size: 'small', above: 'medium', below: 'medium' }),
      says('name', [shop.name], { ink: 'quiet', align: 'center', above: 'medium', below: 'none' }),
    ],
  }),
} // prettier-ignore

export const secondOrder: Design = {
  key: 'second-order',
  name: 'Second order',
  hint: 'some weeks after the first: what goes with it',
  about: ['order', 'customer'],
  make: (shop) => ({
    subject: 'What goes well with what you have',
    previewText: 'Picked by what others took with it, and nothing you already own.',
    blocks: [
      heading('title', 'What goes well with it', { band: 'ink', size: 'huge', align: 'center', above: 'huge', below: 'small' }),
      says('sub', [`${NAME}, these are what people come back for`], { band: 'ink', align: 'center', ink: 'quiet', above: 'none', below: 'huge' }),
      { key: 'together', kind: 'products', by: 'together', count: 4, columns: 2, prices: true, images: true, heading: 'Taken together with yours', style: { above: 'large' } },
      button('look', 'See everything', shop.site, { button: 'outlined', align: 'center', below: 'large' }),
      columns(
        'promises',
        [
          [heading('p1', 'Fast', { align: 'center', size: 'small', below: 'small' }, 2), says('q1', ['In stock, packed within a day.'], { size: 'small', align: 'center' })],
          [heading('p2', 'Repairable', { align: 'center', size: 'small', below: 'small' }, 2), says('q2', ['Every part can be had singly.'], { size: 'small', align: 'center' })],
          [heading('p3', 'Answered', { align: 'center', size: 'small', below: 'small' }, 2), says('q3', ['By people who use it themselves.'], { size: 'small', align: 'center' })],
        ],
        { style: { band: 'tint' } },
      ),
      { key: 'social', kind: 'social', style: { align: 'center', above: 'medium', below: 'none' } },
    ],
  }),
} // prettier-ignore
