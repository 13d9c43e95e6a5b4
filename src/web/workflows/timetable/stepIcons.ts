import {
  CalendarClock,
  CircleStop,
  FlaskConical,
  Hourglass,
  ListPlus,
  Mail,
  MessageSquareText,
  PencilLine,
  Split,
  StickyNote,
  Tag,
  Ticket,
  Timer,
  Webhook,
  type LucideIcon,
} from 'lucide-react'
import type { StepKind } from '../../../core/workflow/steps.ts'

/** The icon of each kind of step. */
export const STEP_ICONS: Readonly<Record<StepKind, LucideIcon>> = {
  email: Mail,
  sms: MessageSquareText,
  note: StickyNote,
  wait: Timer,
  until: CalendarClock,
  waitFor: Hourglass,
  split: Split,
  experiment: FlaskConical,
  end: CircleStop,
  coupon: Ticket,
  tag: Tag,
  list: ListPlus,
  property: PencilLine,
  hook: Webhook,
}
