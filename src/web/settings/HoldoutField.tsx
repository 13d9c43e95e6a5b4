import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { z } from 'zod'
import { labelsResponse, segment } from '../../contract/people.ts'
import type { ShopRules } from '../../contract/shopRules.ts'
import { getJson } from '../ui/data/api.ts'
import { ChoiceField } from '../ui/fields/fields.tsx'

const SHARES = [2, 5, 10, 20] as const

type Among = NonNullable<ShopRules['holdoutAmong']>
export interface Holdout {
  percent: number | null
  among: Among | null
}

interface Props extends Holdout {
  onChange: (holdout: Holdout) => void
}

/** How many people, among whom, get no marketing. One that goes on for months is not ended by a slip of the hand. */
export function HoldoutField({ percent, among, onChange }: Props): ReactNode {
  const [asked, setAsked] = useState<Holdout | null>(null)
  const groups = useGroups(among)
  const shown = asked ?? { percent, among }
  const save = (next: Holdout) => {
    setAsked(null)
    onChange(next.percent === null ? { percent: null, among: null } : next)
  }
  const choose = (next: Holdout) => {
    if (next.percent === percent && keyOf(next.among) === keyOf(among)) setAsked(null)
    else if (percent === null) save(next)
    else setAsked(next)
  }
  return (
    <div>
      <ChoiceField
        label="Held out, to see what marketing causes"
        value={shown.percent === null ? 'none' : String(shown.percent)}
        choices={choicesWith(percent)}
        onChange={(next) => choose({ ...shown, percent: next === 'none' ? null : Number(next) })}
      />
      {shown.percent !== null && Object.keys(groups).length > 1 && (
        <ChoiceField
          label="Among"
          value={keyOf(shown.among)}
          choices={groups}
          onChange={(key) => choose({ ...shown, among: amongOf(key) })}
        />
      )}
      {asked !== null && (
        <p role="alert" className="mt-1 max-w-72 text-xs">
          This ends the holdout that goes on; its figures stay.
          {asked.percent !== null && ' The new one draws other people and begins at nought.'}{' '}
          <button type="button" className="link" onClick={() => save(asked)}>
            Change it
          </button>{' '}
          <button type="button" className="link" onClick={() => setAsked(null)}>
            Keep it
          </button>
        </p>
      )}
    </div>
  )
}

const keyOf = (among: Among | null): string =>
  among === null ? '' : 'list' in among ? `list ${among.list}` : `segment ${among.segment}`

const amongOf = (key: string): Among | null => {
  if (key === '') return null
  const name = key.slice(key.indexOf(' ') + 1)
  return key.startsWith('list ') ? { list: name } : { segment: name }
}

/** Everybody, the lists and the segments there are, by a key of each. */
function useGroups(among: Among | null): Record<string, string> {
  const lists = useQuery({
    queryKey: ['labels', 'list'],
    queryFn: () => getJson('/api/labels?kind=list', labelsResponse),
  })
  const segments = useQuery({
    queryKey: ['segments'],
    queryFn: () => getJson('/api/segments', z.array(segment)),
  })
  const names = new Set(lists.data?.map(({ name }) => name))
  if (among && 'list' in among) names.add(among.list)
  return {
    '': 'everybody',
    ...Object.fromEntries([...names].map((name) => [`list ${name}`, `those on “${name}”`])),
    ...Object.fromEntries(
      segments.data?.map(({ id, name }) => [`segment ${id}`, `those in “${name}” today`]) ?? [],
    ),
  }
}

function choicesWith(percent: number | null): Record<string, string> {
  const shares = new Set([...SHARES, ...(percent === null ? [] : [percent])])
  const sorted = [...shares].toSorted((a, b) => a - b)
  return {
    none: 'nobody',
    ...Object.fromEntries(sorted.map((share) => [String(share), `${share} in 100 people`])),
  }
}
