import { partsOf } from '../../../core/workflow/templates.ts'
import { memo, type ReactNode } from 'react'
import { readableTemplate } from '../../../core/messages/mergeFields.ts'
import { shortDuration } from '../../../core/words/quantities.ts'
import { shortWait, shortWaitOnDays } from '../../../core/words/steps.ts'
import {
  isBranching,
  type MessageStep,
  type Step,
  isToCustomer,
} from '../../../core/workflow/steps.ts'
import { isCounted, type ShownNumbers, type Told } from '../numbers/shownNumbers.ts'
import { StopFigure } from './FigureNote.tsx'
import { STEP_LOOKS } from '../stepLooks.ts'

type Numbers = ShownNumbers | undefined

/** What a step shows of itself on the timetable; the same wherever it moves. */
export const StepFace = memo(function StepFace({
  step,
  numbers,
}: {
  step: Step
  numbers: Numbers
}): ReactNode {
  const { icon: Icon } = STEP_LOOKS[step.kind]
  switch (step.kind) {
    case 'wait':
    case 'until':
      return (
        <>
          <Icon size={12} aria-hidden="true" className="glance-out shrink-0" />
          <span
            className="glance-figures truncate font-mono whitespace-nowrap"
            title={labelOfStep(step)}
          >
            {step.kind === 'wait' ? shortWait(step) : 'until'}
          </span>
          <Waiting step={step} numbers={numbers} />
        </>
      )
    case 'split':
    case 'experiment':
    case 'waitFor':
      return (
        <>
          <Icon size={16} aria-hidden="true" />
          <Waiting step={step} numbers={numbers} beforeLines />
        </>
      )
    case 'email':
    case 'sms':
    case 'note':
      return <MessageFace message={step} numbers={numbers} />
    case 'end':
      return null
    case 'coupon':
    case 'hook':
    case 'list':
    case 'property':
    case 'tag':
      return <ActionFace step={step} numbers={numbers} />
  }
})

interface WaitingProps {
  step: Step
  numbers: Numbers
  /** Kept off the lines that part behind it, and off the stop before it. */
  beforeLines?: boolean
}

function Waiting({ step, numbers, beforeLines = false }: WaitingProps): ReactNode {
  const waiting = numbers?.steps.find((one) => one.step === step.key)?.waiting ?? 0
  if (waiting === 0) return null
  return (
    <span
      className={`glance-figures absolute top-full font-mono text-[11px] whitespace-nowrap text-secondary ${beforeLines ? 'right-0 mt-6' : 'mt-0.5'}`}
    >
      {waiting} waiting
    </span>
  )
}

function MessageFace({ message, numbers }: { message: MessageStep; numbers: Numbers }): ReactNode {
  const { icon: Icon } = STEP_LOOKS[message.kind]
  return (
    <>
      <span className="flex items-center gap-1.5 leading-5 font-medium">
        <Icon size={13} aria-hidden="true" className="shrink-0" />
        <span className="glance-name truncate" title={message.name}>
          {message.name || 'Unnamed message'}
        </span>
      </span>
      <span className="glance-out block truncate text-xs leading-4 text-secondary">
        {readableTemplate(firstLine(message)) || 'nothing written yet'}
      </span>
      <span className="glance-counts flex justify-between font-mono text-[11px] leading-4 whitespace-nowrap">
        {numbers?.told ? (
          <ToldOf told={numbers.told.ofStop(message.key)} />
        ) : numbers && isCounted(numbers, message.key) ? (
          <Sent
            {...(numbers.steps.find((one) => one.step === message.key) ?? NONE)}
            isReplay={numbers.isReplay === true}
          />
        ) : (
          <span className="font-sans text-secondary">
            {isToCustomer(message) ? message.purpose : 'to staff'}
          </span>
        )}
      </span>
      <span className="glance-out block truncate text-right font-mono text-[11px] leading-3 text-secondary">
        <StopFigure numbers={numbers} step={message.key} />
      </span>
    </>
  )
}

function ToldOf({ told }: { told: ReturnType<Told['ofStop']> }): ReactNode {
  if (told === null) return <span className="font-sans text-secondary">not reached</span>
  return (
    <span className={`truncate ${told.isGood ? 'text-primary' : 'text-accent'}`} title={told.words}>
      {told.words}
    </span>
  )
}

const firstLine = (message: MessageStep): string => partsOf(message)[0]?.template ?? ''

/** So many digits of both counts leave no room for the word between them twice. */
const MOST_DIGITS = 7
const NONE = { sent: 0, skipped: 0, left: 0, failed: 0 }

function Sent(props: typeof NONE & { isReplay: boolean }): ReactNode {
  const { sent, skipped, left, failed, isReplay } = props
  const not = skipped + left + failed
  const hasRoom = `${sent}${not}`.length < MOST_DIGITS
  return (
    <>
      <span title={isReplay ? 'It would have gone out so often' : undefined}>
        {sent} {isReplay ? 'go' : 'sent'}
      </span>
      {not > 0 && (
        <span
          className="text-accent"
          title={isReplay ? 'It would have been skipped, or they would have left' : undefined}
        >
          {not} not{!isReplay && hasRoom && <span className="glance-out"> sent</span>}
        </span>
      )}
    </>
  )
}

type ActionStep = Extract<Step, { kind: 'coupon' | 'tag' | 'list' | 'property' | 'hook' }>

function ActionFace({ step, numbers }: { step: ActionStep; numbers: Numbers }): ReactNode {
  const { icon: Icon } = STEP_LOOKS[step.kind]
  const own = numbers?.steps.find((one) => one.step === step.key)
  const done = own ? own.done + own.sent : 0
  return (
    <>
      <span className="flex items-center gap-1.5 text-xs font-medium">
        <Icon size={12} aria-hidden="true" className="glance-out shrink-0" />
        <span className="glance-name truncate" title={actionWords(step)}>
          {actionWords(step)}
        </span>
      </span>
      {numbers && isCounted(numbers, step.key) && (
        <span className="glance-out font-mono text-[11px] text-secondary">{done}</span>
      )}
    </>
  )
}

function actionWords(step: ActionStep): string {
  switch (step.kind) {
    case 'tag':
      return `${step.change === 'add' ? '+' : '−'} ${step.tag || 'tag'}`
    case 'list':
      return `${step.change === 'add' ? '+' : '−'} ${step.list || 'list'}`
    case 'property':
      return step.property === '' ? 'property' : `${step.property} = ${step.value}`
    case 'coupon':
    case 'hook':
      return step.name || step.kind
  }
}

/** A step for those who do not see it. */
export function labelOfStep(step: Step): string {
  switch (step.kind) {
    case 'wait':
      return `Wait ${step.onDay === true ? 'until ' : ''}${shortWaitOnDays(step)}`
    case 'until':
      return 'Wait until a date'
    case 'waitFor':
      return `Wait for an event, ${shortDuration(step.limit)} at most`
    case 'tag':
    case 'list':
    case 'property':
      return actionWords(step)
    case 'split':
      return 'Split'
    case 'end':
      return 'End'
    case 'coupon':
    case 'email':
    case 'experiment':
    case 'hook':
    case 'note':
    case 'sms':
      return `${STEP_LOOKS[step.kind].label}: ${step.name || (isBranching(step) ? 'unnamed' : 'Unnamed message')}`
  }
}
