import { CircleCheck } from 'lucide-react'
import { memo, useMemo, useRef, useState, type ReactNode } from 'react'
import { sortedByAnswer } from '../../../core/check/answers.ts'
import { alikeFindings } from '../../../core/check/finding.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { firstFocusable, useFocusNear } from '../../ui/hooks/useFocusNear.ts'
import { AlikeFindings, AnsweredFindings, type CardProps, type Edit } from './FindingCards.tsx'
import { itemInSight } from '../inspector/focus.ts'
import { useFindings } from './useFindings.ts'

interface Props {
  /** The workflow's id. */
  id: string
  definition: Definition
  /** Only what is about this step. */
  only?: string | undefined
  onShow: CardProps['onShow']
  /** Missing for those who may only look. */
  onEdit: CardProps['onEdit']
}

/** What the go-live check found; each finding leads to its place, and is mended or answered here. */
export const FindingsStrip = memo(function FindingsStrip(props: Props): ReactNode {
  const { id, definition, only, onShow, onEdit } = props
  const all = useFindings(id, definition)
  const findings = useMemo(
    () =>
      all && only !== undefined
        ? all.filter(({ place }) => place.kind === 'step' && place.key === only)
        : all,
    [all, only],
  )
  // Nothing is mended twice while the check has not looked again.
  const [mended, setMended] = useState(findings)
  const isOld = mended !== null && mended === findings
  const cards = useMemo(
    () => ({
      onShow,
      isOld,
      onEdit:
        onEdit &&
        ((edit: Edit) => {
          onEdit(edit)
          setMended(findings)
        }),
    }),
    [onShow, onEdit, findings, isOld],
  )
  const { answered: answers } = definition
  const sorted = useMemo(() => findings && sortedByAnswer(findings, answers), [findings, answers])
  const strip = useRef<HTMLDivElement>(null)
  const onPress = useFocusNear(strip, () => firstFocusable(strip.current) ?? itemInSight())
  if (!sorted) return <p className="text-secondary">The go-live check is looking …</p>
  const { open, answered } = sorted
  return (
    <div
      ref={strip}
      onClickCapture={onPress}
      className="flex shrink-0 flex-wrap items-center gap-2 print:hidden"
    >
      {open.length === 0 && (
        <p className="flex items-center gap-2 text-secondary" data-testid="no-findings">
          <CircleCheck size={16} className="text-primary" aria-hidden="true" /> The go-live check
          has found nothing to correct{only === undefined ? '' : ' in this message'}.
        </p>
      )}
      {open.length + answered.length > 0 && (
        <ul
          aria-label="Go-live check"
          className="flex max-h-40 min-w-0 grow flex-wrap gap-2 overflow-y-auto text-[13px] leading-snug"
        >
          {alikeFindings(open).map((alike) => (
            <AlikeFindings
              key={`${alike[0].severity} ${alike[0].code}`}
              findings={alike}
              {...cards}
            />
          ))}
          <AnsweredFindings answered={answered} {...cards} />
        </ul>
      )}
    </div>
  )
})
