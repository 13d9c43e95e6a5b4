import { useCallback, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { EXAMPLES_DIFFER } from '../../../core/check/exampleFindings.ts'
import type { Finding } from '../../../core/check/finding.ts'
import type { Selection } from '../selection.ts'
import type { ShownPart } from '../shownPart.ts'

/** Something that is to be mended, and where: a rule, a step, or a part of a message. */
type Placed = Pick<Finding, 'place' | 'part'> & Partial<Pick<Finding, 'code'>>

/** Leads to where something is to be mended; `writing` is the message that is on a screen of its own. */
export function useShow(
  workflow: string,
  onSelect: (to: Selection) => void,
  writing: string | undefined,
) {
  const [shown, setShown] = useState<ShownPart | null>(null)
  const navigate = useNavigate()
  const show = useCallback(
    ({ place, part, code }: Placed) => {
      if (code === EXAMPLES_DIFFER) {
        void navigate(`/workflows/${workflow}/rehearsal`)
        return
      }
      onSelect(place)
      const step = place.kind === 'step' ? place.key : undefined
      if (step !== undefined && part) setShown({ step, part })
      // Blocks are on the screen of their message; all else is beside the timetable, too.
      if (step !== writing && part?.kind === 'block') {
        void navigate(`/workflows/${workflow}/messages/${step}`)
      } else if (step !== writing && writing !== undefined) {
        void navigate(`/workflows/${workflow}`)
      }
    },
    [workflow, onSelect, navigate, writing],
  )
  const showing = useMemo(() => ({ shown, done: () => setShown(null) }), [shown])
  return { show, showing }
}
