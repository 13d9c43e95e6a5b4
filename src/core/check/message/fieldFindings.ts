import { FORMATS } from '../../messages/formats.ts'
import {
  canFillField,
  findMergeField,
  suggestedFallback,
  usedMergeFields,
  type MergeField,
  type UsedMergeField,
} from '../../messages/mergeFields.ts'
import { meantField, withKey, withoutFormat, withFallback } from '../../messages/mendTags.ts'
import { changeTexts, partsOf } from '../../workflow/templates.ts'
import type { Definition } from '../../workflow/definition.ts'
import { type MessageStep, isToCustomer } from '../../workflow/steps.ts'
import { stops, type Finding } from '../finding.ts'
import { changingMessage } from '../mend.ts'
import type { OnTheWays } from '../flow/ways.ts'

/** What decides which merge fields of a message can be filled. */
export interface Filling extends Pick<Definition, 'trigger'> {
  /** On how many of the ways that lead to the message a coupon is issued. */
  coupon: OnTheWays
  /** Every code that is issued ends at some time. */
  couponEnds: boolean
  /** Where the shop is, as far as that is known. */
  site: string | null
}

/** Merge fields that there are not, or that would be empty for some or all. */
export function fieldFindings(message: MessageStep, filling: Filling): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const used = partsOf(message).flatMap(({ part, template }) =>
    usedMergeFields(template).map((field) => ({ ...field, part })),
  )
  const forStaff = !isToCustomer(message)
  const findings = used.flatMap((one): Finding[] => {
    const problem = problemOf(one, { ...filling, forStaff })
    if (!problem) return []
    const { title, detail, repair } = problem
    const finding = {
      ...stops(`field-${one.key}`, place, `“${message.name}”: ${title}`, detail),
      part: one.part,
    }
    if (!repair) return [finding]
    const mend = changingMessage(message.key, (before) => changeTexts(before, repair.change))
    return [{ ...finding, repair: { label: repair.label, mend } }]
  })
  // The first of each field: what mends one mends them all.
  return findings.filter(
    ({ code }, index) => findings.findIndex((one) => one.code === code) === index,
  )
}

interface FieldProblem {
  title: string
  detail: string
  repair?: { label: string; change: (template: string) => string } | undefined
}

type Offer = Filling & { forStaff: boolean }

function problemOf(used: UsedMergeField, offer: Offer): FieldProblem | null {
  const { trigger, coupon, forStaff } = offer
  const field = findMergeField(used.key)
  if (!field) return unknownField(used, offer)
  if (field.forStaff && !forStaff) {
    return {
      title: `${field.label} is for staff.`,
      detail: 'Customers cannot open it. It can stand in notes only.',
    }
  }
  if (!canFillField(field, trigger, coupon !== 'none')) return neverFilled(field)
  return (
    formatProblem(used, field) ?? (used.hasFallback ? null : maybeEmpty(field, offer, used.key))
  )
}

function unknownField({ key, hasFallback }: UsedMergeField, offer: Offer): FieldProblem {
  const { trigger, coupon, forStaff, site } = offer
  const title = `there is no merge field ${key}.`
  const detail = 'Take one of those that “{ }” over the text offers.'
  const meant = meantField(
    key,
    (field) => canFillField(field, trigger, coupon !== 'none') && (forStaff || !field.forStaff),
  )
  if (!meant) return { title, detail }
  const suggestion = hasFallback ? null : suggestedFallback(meant, site)
  const change = (template: string) => {
    const taken = withKey(template, key, meant.key)
    return suggestion === null ? taken : withFallback(taken, meant.key, suggestion)
  }
  return { title, detail, repair: { label: `Take “${meant.label}”`, change } }
}

const NO_COUPON =
  'No coupon step stands before the message on its way. Put one there, or take the field out.'

function neverFilled({ label, about }: MergeField): FieldProblem {
  return {
    title: `${label} cannot be filled.`,
    detail: about === 'coupon' ? NO_COUPON : `This workflow has no ${about}. Take the field out.`,
  }
}

const formatsOf = ({ formats }: MergeField) => (formats === null ? [] : FORMATS[formats])

function formatProblem({ key, format }: UsedMergeField, field: MergeField): FieldProblem | null {
  const formats = formatsOf(field)
  if (format === null || formats.some((one) => one.key === format)) return null
  return {
    title: `${field.label} cannot be written as “${format}”.`,
    detail:
      formats.length > 0
        ? `It can be ${formats.map((one) => `“${one.key}”`).join(', ')}.`
        : 'It can be written in one way only.',
    repair: {
      label: 'Write it as usual',
      change: (template) => withoutFormat(template, key),
    },
  }
}

/** What is wrong with a field that nothing stands in for where it is unknown. */
function maybeEmpty(
  field: MergeField,
  { coupon, couponEnds, trigger, site, forStaff }: Offer,
  key: string,
): FieldProblem | null {
  const { label, about, alwaysFilled } = field
  if (about === 'coupon' && coupon === 'some') {
    return {
      title: `${label} is not there for everyone: some of the ways that lead here issue none.`,
      detail: 'Put the coupon step before the paths part, or the message on the path that has it.',
    }
  }
  // In a note, what is not known is said to be.
  if (alwaysFilled || forStaff) return null
  if (about === 'coupon' && couponEnds) return null
  // The date that starts a workflow is known of everybody whom it starts for.
  if (trigger.kind === 'date' && field.source?.key === trigger.field) return null
  const suggestion = suggestedFallback(field, site)
  return {
    title: `${label} is not known of everyone.`,
    detail: 'Click it in the text, and say what stands there where it is unknown.',
    repair:
      suggestion === null
        ? undefined
        : {
            label: `Write “${suggestion}” instead`,
            change: (template) => withFallback(template, key, suggestion),
          },
  }
}
