import type { ReactNode } from 'react'
import { rateInterval, rateOf, type Count } from '../../../core/statistics/rates.ts'
import { percentWords, rangeWords } from './percent.ts'

interface Props {
  did: number
  of: number
  /** The same of the time before. */
  before?: Count | undefined
}

/** Fewer than so many say nothing of a rate; what they did is shown all the same. */
const LEAST = 20

/** A share of people, with what is behind it: "12.3 %, 57 of 463", and within which bounds it most likely is. */
export function Rate({ did, of, before }: Props): ReactNode {
  const rate = rateOf({ did, of })
  const interval = rateInterval({ did, of })
  if (rate === null || !interval) return '–'
  const bounds = `most likely ${rangeWords(interval)}`
  if (of < LEAST) {
    return (
      <span title={`Too few for a rate: ${bounds}`}>
        {did} of {of}
        {before && <Before {...before} />}
      </span>
    )
  }
  return (
    <span className="block whitespace-nowrap" title={`${did} of ${of}: ${bounds} (95 %)`}>
      {percentWords(rate)}
      <span className="block text-[10.5px] text-secondary">
        {did} · {rangeWords(interval)}
      </span>
      {before && <Before {...before} />}
    </span>
  )
}

function Before({ did, of }: Count): ReactNode {
  const rate = rateOf({ did, of })
  const words = rate === null || of < LEAST ? `${did} of ${of}` : percentWords(rate)
  return <span className="block text-[10.5px] text-secondary">before {words}</span>
}
