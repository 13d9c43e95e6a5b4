import type { EmailStep } from '../../core/workflow/steps.ts'

export const MAREN = { name: 'Maren at Combwright', address: 'maren@combwright.example' }
export const TIAGO = { name: 'Tiago at Combwright', address: 'care@combwright.example' }
export const SHOP_SENDER = { name: 'Combwright', address: 'hello@combwright.example' }

/** A message with the parts that most of the demo's have. */
export function message(
  key: string,
  name: string,
  parts: Pick<EmailStep, 'subject' | 'body' | 'sender'> & Partial<EmailStep>,
): EmailStep {
  return {
    key,
    kind: 'email',
    name,
    purpose: 'marketing',
    format: 'letter',
    previewText: '',
    ...parts,
  }
}
