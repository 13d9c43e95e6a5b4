import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { SenderResponse } from '../../../../contract/addresses.ts'
import { sameAddress } from '../../../../core/check/message/addressFindings.ts'
import { Field, TextField } from '../../../ui/fields/fields.tsx'
import { useAddressBook } from '../../../ui/data/useAddressBook.ts'
import type { StepOf } from '../stepChange.ts'

type Sender = StepOf<'email'>['sender']

interface Props {
  sender: Sender
  onChange: (to: Sender, touching: string) => void
}

/** From whom an email comes: one of the shop's senders, and the name it is shown with. */
export function SenderFields({ sender, onChange }: Props): ReactNode {
  const senders = useAddressBook()?.senders ?? []
  const known = senders.find(({ address }) => sameAddress(address, sender.address))
  const pick = (address: string) => {
    const picked = senders.find((one) => one.address === address)
    // A name that was written for this message stays.
    const isUsual = sender.name === '' || sender.name === known?.name
    onChange({ address, name: picked && isUsual ? picked.name : sender.name }, 'address')
  }
  return (
    <>
      <Field label="From">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full"
            value={known?.address ?? sender.address}
            onChange={(event) => pick(event.target.value)}
          >
            {!known && <option value={sender.address}>{otherWords(sender.address)}</option>}
            {senders.map((one) => (
              <option key={one.address} value={one.address}>
                {senderWords(one)}
              </option>
            ))}
          </select>
        )}
      </Field>
      <p className="-mt-2 mb-3 text-xs">
        <Link className="link text-secondary" to="/settings#senders">
          Senders are added in the settings
        </Link>
      </p>
      <TextField
        label="Name shown"
        value={sender.name}
        onChange={(name) => onChange({ ...sender, name }, 'sender')}
      />
    </>
  )
}

/** The address first: what a narrow form has no room for is the name, and that stands below. */
const senderWords = ({ address, name, verified }: SenderResponse): string =>
  `${address}${verified ? '' : ' (not confirmed yet)'} · ${name}`

const otherWords = (address: string): string =>
  address === '' ? 'choose one' : `${address} (not among the senders)`
