import type { ReactNode } from 'react'
import { healthResponse } from '../../contract/overview.ts'
import { rateInterval } from '../../core/statistics/rates.ts'
import { Part } from './Part.tsx'

/**
 * What the large mailbox providers publish for those who send in bulk: complaints under 0.1 %, never 0.3 %.
 * Two in a hundred that come back are common practice as a limit.
 */
const LIMITS = {
  complained: { good: 0.001, never: 0.003 },
  bounced: { good: 0.02, never: 0.05 },
} as const

/** How the mail was taken, against what mailbox providers bear. */
export function Health(): ReactNode {
  return (
    <Part
      title="How mail is taken, last four weeks"
      path="/api/overview/health"
      schema={healthResponse}
    >
      {({ sent, bounced, complained, delivered }) =>
        sent === 0 ? (
          <p className="text-secondary">No mail has left in this time.</p>
        ) : (
          <dl className="mt-2 grid grid-cols-2 gap-4">
            <Meter
              label="Complained"
              did={complained}
              of={delivered}
              limits={LIMITS.complained}
              words="Large mailbox providers ask for less than 0.1 %, and block from 0.3 % on."
            />
            <Meter
              label="Came back"
              did={bounced}
              of={sent}
              limits={LIMITS.bounced}
              words="Less than 2 % is usual; more, and mailbox providers begin to doubt the sender."
            />
          </dl>
        )
      }
    </Part>
  )
}

interface MeterProps {
  label: string
  did: number
  of: number
  limits: { good: number; never: number }
  words: string
}

function Meter({ label, did, of, limits, words }: MeterProps): ReactNode {
  const rate = of === 0 ? 0 : did / of
  const high = rateInterval({ did, of })?.high ?? 0
  const judged = rate >= limits.never ? 'far too many' : rate >= limits.good ? 'too many' : 'fine'
  const percent = (share: number, digits = 2) => `${(share * 100).toFixed(digits)} %`
  return (
    <div>
      <dt className="text-sm">{label}</dt>
      <dd>
        <span className={`font-mono text-lg ${judged === 'fine' ? '' : 'text-accent'}`}>
          {percent(rate)}
        </span>{' '}
        <span className={`text-xs ${judged === 'fine' ? 'text-success' : 'text-accent'}`}>
          {judged}
        </span>
        <span className="relative my-1 block h-2 rounded-sm bg-base-300" aria-hidden="true">
          <span
            className={`absolute inset-y-0 left-0 rounded-sm ${judged === 'fine' ? 'bg-success' : 'bg-accent'}`}
            style={{ width: `${Math.min(100, (100 * rate) / limits.never)}%` }}
          />
          <span
            className="absolute inset-y-[-3px] w-0.5 bg-base-content"
            style={{ left: `${(100 * limits.good) / limits.never}%` }}
          />
        </span>
        <span className="block text-xs text-secondary">
          {did} of {of.toLocaleString('en-IE')}; by chance it could be up to {percent(high)}.{' '}
          {words}
        </span>
      </dd>
    </div>
  )
}
