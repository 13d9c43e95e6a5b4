import { useState, type ReactNode } from 'react'
import type { ConsentState, PersonResponse } from '../../contract/people.ts'
import { Time } from '../ui/data/shop.tsx'
import { useAct } from './useAct.ts'

interface Props {
  person: PersonResponse
  mayEdit: boolean
}

/** Whether they may be written to, by each channel, and what that rests on. */
export function Consents({ person, mayEdit }: Props): ReactNode {
  return (
    <section className="panel p-3" aria-label="Consent">
      <h2 className="text-base">Consent to marketing</h2>
      {person.consents.map((one) => (
        <Consent key={one.channel} id={person.id} consent={one} mayEdit={mayEdit} />
      ))}
    </section>
  )
}

const WAYS = { email: 'By email', sms: 'By text message' } as const

function Consent({ id, consent, mayEdit }: { id: string; consent: ConsentState; mayEdit: boolean }): ReactNode {
  const { channel, address, may, deadSince } = consent
  const [given, setGiven] = useState<boolean | null>(null)
  const act = useAct(id)
  return (
    <div className="mt-2 border-t border-base-300/60 pt-2">
      <p>
        {WAYS[channel]}: <strong>{may === null ? 'never asked' : may ? 'yes' : 'no'}</strong>
        {address === null && <span className="text-secondary"> (no {channel === 'email' ? 'address' : 'mobile number'} known)</span>}
      </p>
      <p className="text-xs text-secondary"><Basis consent={consent} /></p>
      {deadSince !== null && address !== null && (
        <p className="mt-1 text-accent">
          Mail to it has come back since <Time at={deadSince} />: nothing is sent there.{' '}
          {mayEdit && (
            <button type="button" className="btn btn-xs" onClick={() => act.mutate({ did: 'revive', address })}>
              Write to it again
            </button>
          )}
        </p>
      )}
      {mayEdit && given === null && (
        <p className="mt-1 flex gap-2">
          {may !== true && <button type="button" className="btn btn-xs" onClick={() => setGiven(true)}>They said yes</button>}
          {may !== false && <button type="button" className="btn btn-xs" onClick={() => setGiven(false)}>They said no</button>}
        </p>
      )}
      {given !== null && (
        <HowTheySaidIt
          given={given}
          onLeave={() => setGiven(null)}
          onSaid={(how) => act.mutate({ did: 'consent', channel, given, how }, { onSuccess: () => setGiven(null) })}
        />
      )}
    </div>
  )
} // prettier-ignore

function Basis({ consent: { recorded, said } }: { consent: ConsentState }): ReactNode {
  if (said) {
    return (
      <>
        They said {said.given ? 'yes' : 'no'} on <Time at={said.at} />
        {said.how && `: ${said.how}`}.
        {recorded !== null && recorded !== said.given && ` The shop has “${recorded ? 'yes' : 'no'}”, which counts for less.`}
      </>
    )
  }
  return recorded === null ? 'Nothing is on record.' : `The shop has “${recorded ? 'yes' : 'no'}” on record.`
} // prettier-ignore

interface HowProps {
  given: boolean
  onSaid: (how: string) => void
  onLeave: () => void
}

function HowTheySaidIt({ given, onSaid, onLeave }: HowProps): ReactNode {
  const [how, setHow] = useState('')
  return (
    <form
      className="mt-2 flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        onSaid(how)
      }}
    >
      <input
        className="input input-sm min-w-0 flex-1"
        aria-label="How they said so"
        placeholder="How: on the phone, at the fair …"
        maxLength={80}
        required
        value={how}
        onChange={({ target }) => setHow(target.value)}
      />
      <button type="submit" className="btn btn-primary btn-sm">
        Note the {given ? 'yes' : 'no'}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onLeave}>
        Leave it
      </button>
    </form>
  )
}
