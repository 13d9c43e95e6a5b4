import type { Program } from './compile.ts'
import type { RunState } from './runState.ts'
import type { Instant } from '../shared/time.ts'

/**
 * A run as it goes on when somebody ends the wait it is in: as though its time had come now, and what was
 * awaited had not. Null for a run that is in no wait: what holds a message back is no wait, and stays.
 */
export function hurried(program: Program, run: RunState, now: Instant): RunState | null {
  const instruction = run.step === null ? undefined : program.instructions.get(run.step)
  const onTo = (step: string | null): RunState => ({
    ...run,
    step,
    since: now,
    dueAt: now,
    awaits: null,
    hours: null,
  })
  if (run.status !== 'inProgress') return null
  if (instruction?.kind === 'wait' || instruction?.kind === 'until') return onTo(instruction.next)
  return instruction?.kind === 'waitFor' ? onTo(instruction.otherwise) : null
}
