import type { PreviewInput } from '../../ui/mail/usePreview.ts'

/** A message that shows most of what a brand decides. */
export const SAMPLE: PreviewInput = {
  trigger: { kind: 'event', event: 'order.placed' },
  sample: null,
  hasCoupon: true,
  message: [
    {
      key: 'sample',
      kind: 'email',
      name: 'Sample',
      purpose: 'marketing',
      format: 'designed',
      sender: { name: 'Sample', address: 'sample@shop.example' },
      subject: 'A sample',
      previewText: '',
      body: '',
      blocks: [
        { key: 'heading', kind: 'heading', level: 1, text: 'How your messages look' },
        {
          key: 'text',
          kind: 'text',
          text: [
            {
              kind: 'paragraph',
              text: [
                { text: 'This is what people read, with ' },
                { text: 'a link', href: 'https://shop.example' },
                { text: ' and ' },
                { text: 'words in bold', bold: true },
                { text: '.' },
              ],
            },
          ],
        },
        { key: 'items', kind: 'items', prices: true },
        { key: 'summary', kind: 'summary' },
        { key: 'button', kind: 'button', label: 'Look at it', href: 'https://shop.example' },
        { key: 'coupon', kind: 'coupon', text: 'Your code' },
        { key: 'smaller', kind: 'heading', level: 2, text: 'A smaller heading' },
        { key: 'help', kind: 'help', text: 'Questions? Write to' },
        { key: 'divider', kind: 'divider' },
        { key: 'social', kind: 'social' },
      ],
    },
  ],
}
