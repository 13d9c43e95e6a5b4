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
import type { StepKind } from '../../core/workflow/steps.ts'

interface StepLook {
  icon: LucideIcon
  /** What it is called, among which it is offered, and what it is for. */
  label: string
  group: string
  hint: string
}

const look = (icon: LucideIcon, group: string, label: string, hint: string): StepLook => ({
  icon,
  group,
  label,
  hint,
})

/** How each kind of step looks, in the order in which they are offered. */
export const STEP_LOOKS: Readonly<Record<StepKind, StepLook>> = {
  email: look(Mail, 'Messages', 'Email', 'a message to the customer'),
  sms: look(MessageSquareText, 'Messages', 'Text message', 'to the customer’s phone'),
  note: look(StickyNote, 'Messages', 'Staff note', 'a mail to colleagues'),
  wait: look(Timer, 'Time', 'Wait', 'time passes'),
  until: look(CalendarClock, 'Time', 'Wait until a date', 'before a class, a payment'),
  waitFor: look(Hourglass, 'Time', 'Wait for an event', 'up to a limit'),
  split: look(Split, 'Ways', 'Split', 'different people, different paths'),
  experiment: look(FlaskConical, 'Ways', 'Experiment', 'people part by chance'),
  end: look(CircleStop, 'Ways', 'End', 'this path stops here'),
  coupon: look(Ticket, 'Actions', 'Coupon', 'a code of their own'),
  tag: look(Tag, 'Actions', 'Tag', 'add or remove one'),
  list: look(ListPlus, 'Actions', 'List', 'add to or remove from'),
  property: look(PencilLine, 'Actions', 'Property', 'note something down'),
  hook: look(Webhook, 'Actions', 'Webhook', 'call another system'),
}

export const STEP_KINDS = Object.keys(STEP_LOOKS) as StepKind[]
