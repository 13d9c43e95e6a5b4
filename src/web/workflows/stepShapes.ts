import type { ItemKind } from '../../core/timetable/layout.ts'
import type { StepKind } from '../../core/workflow/steps.ts'

/**
 * How something on a timetable is drawn: a `stop` is what people read, an `action` what is done and read
 * by nobody.
 */
export type Shape =
  'stop' | 'action' | 'branching' | 'wait' | 'date' | 'end' | Exclude<ItemKind, StepKind>

const SHAPES: Readonly<Record<ItemKind, Shape>> = {
  start: 'start',
  branch: 'branch',
  join: 'join',
  email: 'stop',
  sms: 'stop',
  note: 'stop',
  wait: 'wait',
  until: 'date',
  waitFor: 'branching',
  split: 'branching',
  experiment: 'branching',
  end: 'end',
  coupon: 'action',
  tag: 'action',
  list: 'action',
  property: 'action',
  hook: 'action',
}

export const shapeOf = (kind: ItemKind): Shape => SHAPES[kind]
