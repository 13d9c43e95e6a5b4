import { CircleCheck, Clock } from 'lucide-react'
import { useRef, type ReactNode } from 'react'
import { toast } from 'sonner'
import { newSenderBody, type SenderResponse } from '../../../contract/addresses.ts'
import { send } from '../../ui/data/api.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { FormField, useZodForm } from '../../ui/fields/form.tsx'
import { Loading } from '../../ui/states.tsx'
import { useAddressBook } from '../../ui/data/useAddressBook.ts'
import { useFocusNear } from '../../ui/hooks/useFocusNear.ts'
import { useChange } from '../../ui/data/useChange.tsx'

/** From whom messages may come: each address is confirmed by whoever reads its mail. */
export function Senders(): ReactNode {
  const senders = useAddressBook()?.senders
  const section = useRef<HTMLElement>(null)
  const onPress = useFocusNear(section)
  return (
    <section
      ref={section}
      onClickCapture={onPress}
      id="senders"
      className="panel mb-4 p-4"
      aria-label="Senders"
    >
      <h2 className="text-base">Senders</h2>
      <p className="mb-3 text-secondary">
        From whom messages may come. We write to a new address, and whoever reads its mail confirms
        it.
      </p>
      <NewSender />
      {!senders && <Loading what="the senders" />}
      {senders && (
        <table className="table table-sm">
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Address</th>
              <th scope="col">Confirmed</th>
              <th scope="col">
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {senders.map((sender, index) => (
              <Row key={sender.address} sender={sender} isOwn={index === 0} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

const useAdd = (onDone: (address: string) => void) =>
  useChange(
    (sender: Pick<SenderResponse, 'address' | 'name'>) => send('POST', '/api/senders', sender),
    'addresses',
    ({ address }) => onDone(address),
  )

function NewSender(): ReactNode {
  const form = useZodForm(newSenderBody, { name: '', address: '' })
  const { errors } = form.formState
  const add = useAdd((to) => {
    form.reset()
    toast.success(`We have written to ${to}.`)
  })
  return (
    <form
      noValidate
      onSubmit={(event) => void form.handleSubmit((sender) => add.mutate(sender))(event)}
      className="mb-3 flex flex-wrap items-start gap-2"
    >
      <FormField
        hideLabel
        className="w-48"
        label="Name of the new sender"
        placeholder="Name, like “Maren at Combwright”"
        field={form.register('name')}
        problem={errors.name}
      />
      <FormField
        hideLabel
        className="min-w-56 flex-1"
        type="email"
        label="Address of the new sender"
        placeholder="Address"
        field={form.register('address')}
        problem={errors.address}
      />
      <button type="submit" className="btn btn-primary btn-sm" disabled={add.isPending}>
        Add a sender
      </button>
    </form>
  )
}

function Row({ sender, isOwn }: { sender: SenderResponse; isOwn: boolean }): ReactNode {
  const { address, name, verified } = sender
  const again = useAdd((to) => toast.success(`We have written to ${to} again.`))
  const remove = useChange(
    () => send('DELETE', `/api/senders/${encodeURIComponent(address)}`),
    'addresses',
  )
  return (
    <tr>
      <td>{name}</td>
      <td className="break-all">{address}</td>
      <td>
        {verified ? (
          <span className="flex items-center gap-1.5">
            <CircleCheck size={14} className="text-primary" aria-hidden="true" />
            {isOwn ? 'the shop’s own' : 'yes'}
          </span>
        ) : (
          <span className="flex items-center gap-1.5 text-accent">
            <Clock size={14} aria-hidden="true" /> not yet
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() => again.mutate(sender)}
            >
              Write again
            </button>
          </span>
        )}
      </td>
      <td className="text-right">
        {!isOwn && (
          <ConfirmButton
            className="btn btn-ghost btn-xs"
            label="Remove"
            ariaLabel={`Remove ${address}`}
            confirm="Remove the sender"
            consequence="Workflows that send from it go on; the next time they are published, they need another one."
            onConfirm={() => remove.mutate()}
          />
        )}
      </td>
    </tr>
  )
}
