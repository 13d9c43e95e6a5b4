import { useState, type ComponentType, type FormEvent, type ReactNode } from 'react'
import { toast } from 'sonner'
import type { Block, LeafBlock } from '../../../../core/blocks/blocks.ts'
import { useHere } from '../../../ui/hooks/useHere.ts'
import { useLatest } from '../../../ui/hooks/useLatest.ts'
import type { BlockFormProps } from './BlockList.tsx'
import { useSaved } from './keptBlocks.ts'

interface KeepProps {
  block: LeafBlock
  onKept: (block: Block) => void
}

/** Keeps a block for other messages; from then on this one uses it, too. */
export function KeepForm({ block, onKept }: KeepProps): ReactNode {
  const { keep } = useSaved()
  const [name, setName] = useState('')
  const latest = useLatest({ block, onKept })
  const here = useHere()
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    try {
      const kept = await keep(name.trim(), [block])
      // Meanwhile other things may have been written, here or elsewhere, which must not be undone.
      const now = latest.current
      if (here.current && now.block === block) now.onKept({ key: block.key, kind: 'kept', kept })
      else toast.info(`Kept as “${name.trim()}”. This block has changed since and stays as it is.`)
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <form className="mb-3 flex gap-1" onSubmit={(event) => void submit(event)}>
      <input
        className="input input-xs min-w-0 flex-1"
        aria-label="Keep it for other messages, under a name"
        placeholder="Keep it for other messages as …"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="btn btn-xs" disabled={name.trim() === ''}>
        Keep
      </button>
    </form>
  )
}

type Props = Omit<BlockFormProps, 'block'> & {
  block: Extract<LeafBlock, { kind: 'kept' }>
  Form: ComponentType<BlockFormProps>
}

/** A kept block: changed here, it changes in every message that uses it. */
export function KeptForm({ block, onChange, Form, ...form }: Props): ReactNode {
  const { all, change } = useSaved()
  const saved = all.find(({ id }) => id === block.kept)
  const [draft, setDraft] = useState<LeafBlock[] | null>(null)
  if (!saved)
    return <p className="mb-3 text-accent">What was kept here is gone. Remove the block.</p>
  const blocks = draft ?? saved.blocks
  const [only, ...others] = blocks
  const save = async () => {
    try {
      await change({ ...saved, blocks })
      setDraft(null)
      toast.success(`“${saved.name}” is changed wherever it is used.`)
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <>
      <p className="mb-2 text-secondary">
        “{saved.name}” is used by other messages, too. Live ones change with it at once.
      </p>
      {blocks.map((one, index) => (
        <Form
          key={one.key}
          {...form}
          block={one}
          isKept
          onChange={(to) =>
            setDraft(blocks.map((old, at) => (at === index ? (to as LeafBlock) : old)))
          }
        />
      ))}
      <div className="mb-3 flex gap-1">
        <button
          type="button"
          className="btn btn-primary btn-xs"
          disabled={draft === null}
          onClick={() => void save()}
        >
          Change it everywhere
        </button>
        {only && others.length === 0 && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={() =>
              onChange({ ...only, key: block.key, ...(block.onlyIf && { onlyIf: block.onlyIf }) })
            }
          >
            Make it this message’s own
          </button>
        )}
      </div>
    </>
  )
}
