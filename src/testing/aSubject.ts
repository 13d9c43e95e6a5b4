import { subjectSchema, type Subject } from '../core/workflow/rehearsalSubject.ts'

/** Somebody made up for a rehearsal: new, with one thing, who has agreed to marketing by email. */
export function aSubject(
  over: Partial<Omit<Subject, 'customer'>> & { customer?: Partial<Subject['customer']> } = {},
): Subject {
  const { customer, ...rest } = over
  return subjectSchema.parse({
    at: '2026-04-14T10:05:00Z',
    customer: {
      firstName: 'Marta',
      country: null,
      zone: null,
      emailConsent: true,
      smsConsent: null,
      hasPhone: false,
      tags: [],
      ...customer,
    },
    earlier: [],
    lines: [
      { productId: 'p1', title: 'Hive', category: null, quantity: 1, unitPriceMinor: 18_900 },
    ],
    stars: 5,
    dateInDays: 30,
    between: [],
    ...rest,
  })
}
