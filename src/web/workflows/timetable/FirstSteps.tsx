import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { STEP_WORDS } from '../../../core/words/steps.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import type { Editing } from '../editing/useEditing.ts'
import { HEAD_HEIGHT, HEAD_WIDTH, ROW_HEIGHT } from './geometry.ts'
import { STEP_LOOKS } from '../stepLooks.ts'

/** What most workflows begin with. */
const FIRST: readonly StepKind[] = ['wait', 'email', 'split']

/** Said where nothing happens yet: what to begin with. */
export function FirstSteps({ onInsert }: { onInsert: Editing['insert'] }): ReactNode {
  return (
    <div
      className="absolute flex flex-wrap items-center gap-2 text-secondary"
      style={{ left: HEAD_WIDTH + 30, top: HEAD_HEIGHT + ROW_HEIGHT + 14 }}
    >
      Nothing happens yet. Begin with
      {FIRST.map((kind) => {
        const { icon: Icon } = STEP_LOOKS[kind]
        return (
          <button
            key={kind}
            type="button"
            className="btn btn-sm"
            onClick={() => onInsert({ list: null, index: 0 }, kind)}
          >
            <Icon size={14} aria-hidden="true" /> {STEP_WORDS[kind]}
          </button>
        )
      })}
      <span>
        or what else the “+” offers, or from a{' '}
        <Link to="/recipes" className="link">
          recipe
        </Link>
        .
      </span>
    </div>
  )
}
