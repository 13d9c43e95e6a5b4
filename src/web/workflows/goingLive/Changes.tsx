import { useMemo, type ReactNode } from 'react'
import { changesBetween } from '../../../core/words/changes.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { useWords } from '../../ui/data/words.tsx'
import { Part } from './Part.tsx'

/** What the draft changes of what is live. */
export function Changes({ live, draft }: { live: Definition; draft: Definition }): ReactNode {
  const words = useWords()
  const changes = useMemo(() => changesBetween(live, draft, words), [live, draft, words])
  return (
    <Part title="What changes">
      <ul className="list-disc pl-5">
        {changes.map(({ text, was }, index) => (
          <li key={index}>
            {text}
            {was !== undefined && <span className="text-secondary"> · was: {was}</span>}
          </li>
        ))}
      </ul>
      <p className="text-secondary">Whoever is in it goes on with the version they entered.</p>
    </Part>
  )
}
