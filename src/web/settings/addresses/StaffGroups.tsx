import { useRef, type ReactNode } from 'react'
import { groupBody, type GroupBody, type GroupResponse } from '../../../contract/addresses.ts'
import { send } from '../../ui/data/api.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { FormField, useZodForm } from '../../ui/fields/form.tsx'
import { Empty, Loading } from '../../ui/states.tsx'
import { useAddressBook } from '../../ui/data/useAddressBook.ts'
import { useFocusNear } from '../../ui/hooks/useFocusNear.ts'
import { useChange } from '../../ui/data/useChange.tsx'

/** Who of the staff gets notes and copies together. */
export function StaffGroups(): ReactNode {
  const groups = useAddressBook()?.groups
  const section = useRef<HTMLElement>(null)
  const onPress = useFocusNear(section)
  return (
    <section
      ref={section}
      onClickCapture={onPress}
      id="staff"
      className="panel mb-4 p-4"
      aria-label="Groups of staff"
    >
      <h2 className="text-base">Groups of staff</h2>
      <p className="mb-3 text-secondary">
        Notes and copies go to a group as it is at that moment, so that nobody has to be changed in
        every workflow.
      </p>
      <NewGroup />
      {!groups && <Loading what="the groups" />}
      {groups?.length === 0 && <Empty title="No groups yet." />}
      {groups?.map((group) => (
        <Group key={group.key} group={group} />
      ))}
    </section>
  )
}

/** Addresses one after the other, with commas, spaces or lines between. */
const addressesIn = (text: string): string[] =>
  text.split(/[\s,;]+/).filter((address) => address !== '')

const useSave = (onDone?: () => void) =>
  useChange(
    ({ key, ...body }: GroupBody & { key: string }) =>
      send('PUT', `/api/staff-groups/${key}`, body),
    'addresses',
    onDone,
  )

/** Not `randomUUID`: browsers keep that from pages that come over plain HTTP, as in a shop's own network. */
const newKey = (): string => `g${crypto.getRandomValues(new Uint32Array(1))[0]?.toString(36) ?? ''}`

function NewGroup(): ReactNode {
  const form = useZodForm(groupBody.pick({ name: true }), { name: '' })
  const save = useSave(() => form.reset())
  return (
    <form
      noValidate
      onSubmit={(event) =>
        void form.handleSubmit(({ name }) => save.mutate({ key: newKey(), name, addresses: [] }))(
          event,
        )
      }
      className="mb-3 flex items-start gap-2"
    >
      <FormField
        hideLabel
        className="flex-1"
        label="Name of the new group"
        placeholder="Name, like “Care team”"
        field={form.register('name')}
        problem={form.formState.errors.name}
      />
      <button type="submit" className="btn btn-primary btn-sm" disabled={save.isPending}>
        Make a group
      </button>
    </form>
  )
}

function Group({ group }: { group: GroupResponse }): ReactNode {
  const { key, name, addresses } = group
  const save = useSave()
  const remove = useChange(() => send('DELETE', `/api/staff-groups/${key}`), 'addresses')
  return (
    <div className="flex items-start gap-2 border-t border-base-300 py-2">
      <span className="w-36 pt-1 font-medium break-words">{name}</span>
      <textarea
        className="textarea textarea-sm min-h-9 flex-1"
        rows={Math.max(1, addresses.length)}
        aria-label={`Addresses of ${name}`}
        placeholder="Nobody yet: addresses with commas or lines between"
        defaultValue={addresses.join('\n')}
        onBlur={({ target: { value } }) => {
          const next = addressesIn(value)
          if (next.join() !== addresses.join()) save.mutate({ key, name, addresses: next })
        }}
      />
      <ConfirmButton
        className="btn btn-ghost btn-xs mt-1"
        label="Remove"
        ariaLabel={`Remove ${name}`}
        confirm="Remove the group"
        consequence="Nobody gets notes or copies by it any more, from now on."
        onConfirm={() => remove.mutate()}
      />
    </div>
  )
}
