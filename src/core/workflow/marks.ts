import type { CustomerFacts } from '../events/facts.ts'
import type { CustomerMarks } from './decision.ts'
import type { ListStep, PropertyStep, Step, TagStep } from './steps.ts'

export type MarkStep = TagStep | ListStep | PropertyStep

const MARKS: Readonly<Record<MarkStep['kind'], true>> = { tag: true, list: true, property: true }

/** True for steps that mark the customer. */
export const isMark = (step: Step): step is MarkStep => step.kind in MARKS

/** The customer as a tag, list or property step leaves them. */
export function marked(customer: CustomerFacts, step: MarkStep): CustomerFacts {
  switch (step.kind) {
    case 'tag':
      return { ...customer, tags: changed(customer.tags, step.tag, step.change) }
    case 'list':
      return { ...customer, lists: changed(customer.lists, step.list, step.change) }
    case 'property':
      return {
        ...customer,
        properties: { ...customer.properties, [step.property]: step.value },
      }
  }
}

function changed(names: readonly string[], name: string, change: 'add' | 'remove'): string[] {
  const others = names.filter((one) => one !== name)
  return change === 'add' ? [...others, name] : others
}

/** What a customer is marked with. */
export function marksOf({ tags, lists, properties }: CustomerFacts): CustomerMarks {
  return { tags, lists, properties }
}
