import { useMemo, type ReactNode } from 'react'
import { Link } from 'react-router'
import { checkExamples, coverage } from '../../../core/rehearsal/examples.ts'
import { reachableWords } from '../../../core/words/exampleWords.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { useShopFacts } from '../rehearsal/useShopFacts.ts'
import { useWords } from '../../ui/data/words.tsx'
import { Part } from './Part.tsx'

interface Props {
  id: string
  definition: Definition
  isRunnable: boolean
}

/** What its examples go through, and what nobody has tried. */
export function Covered({ id, definition, isRunnable }: Props): ReactNode {
  const words = useWords()
  const { facts } = useShopFacts()
  const told = useMemo(() => {
    if (!isRunnable || !facts) return null
    return coverage(definition, checkExamples(definition, facts))
  }, [definition, isRunnable, facts])
  const examples = definition.examples?.length ?? 0
  return (
    <Part title="Its examples">
      <p>
        {examples === 0
          ? 'Nothing has been tried and kept yet.'
          : `${plural(examples, 'example')} ${examples === 1 ? 'is' : 'are'} gone through at each change.`}{' '}
        {told && told.all > 0 && `${told.all - told.missing.length} of ${plural(told.all, 'way')} covered.`}{' '}
        <Link className="link" to={`/workflows/${id}/rehearsal`}>
          {examples === 0 ? 'Try it' : 'Look at them'}
        </Link>
      </p>
      {told && told.missing.length > 0 && (
        <p className="text-secondary">
          Not tried: {told.missing.map((one) => reachableWords(one, definition, words)).join('; ')}.
        </p>
      )}
    </Part>
  )
} // prettier-ignore
