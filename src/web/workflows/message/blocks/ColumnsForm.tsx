import type { ComponentType, ReactNode } from 'react'
import type { ColumnsBlock, LeafBlock } from '../../../../core/blocks/blocks.ts'
import { ChoiceField } from '../../../ui/fields/fields.tsx'
import { TickField } from '../../../ui/fields/TickField.tsx'
import { useDesign } from '../writing/designContext.ts'
import { BlockList, type BlockFormProps } from './BlockList.tsx'

type Props = Omit<BlockFormProps, 'block'> & {
  block: ColumnsBlock
  Form: ComponentType<BlockFormProps>
}

const UPRIGHT = { top: 'at the top', middle: 'in the middle', bottom: 'at the bottom' } as const

/** Ways to part the sheet, each with how wide its columns are. */
const PARTINGS: Readonly<Record<string, string>> = {
  '1-1': 'two, the same',
  '1-2': 'two, the second wider',
  '2-1': 'two, the first wider',
  '1-1-1': 'three, the same',
  '1-2-1': 'three, the middle wider',
  '1-1-1-1': 'four, the same',
}

/** Two to four columns, how wide they are, and the blocks of each. */
export function ColumnsForm({ block, all, kinds, onChange, Form }: Props): ReactNode {
  const { columns, widths, upright = 'top', phones } = block
  const design = useDesign()
  const parting = columns.map((_, index) => widths?.[index] ?? 1).join('-')
  return (
    <>
      <ChoiceField
        label="Columns"
        value={parting}
        choices={parting in PARTINGS ? PARTINGS : { ...PARTINGS, [parting]: parting }}
        onChange={(to) => onChange(partedBy(block, to))}
      />
      <ChoiceField
        label="Shorter ones stand"
        value={upright}
        choices={UPRIGHT}
        onChange={(to) => onChange({ ...block, upright: to })}
      />
      <TickField
        className="mb-3"
        checked={phones === 'beside'}
        onChange={(beside) => onChange({ ...block, phones: beside ? 'beside' : 'stack' })}
      >
        Side by side on phones, too
      </TickField>
      {columns.map((column, index) => (
        // Columns have no names: their place is what they are.
        <fieldset key={String(index)} className="mb-3 min-w-0 border-l-2 border-base-300 pl-2">
          <legend className="field-label">Column {index + 1}</legend>
          <BlockList<LeafBlock>
            blocks={column}
            all={all}
            kinds={kinds.filter((kind) => kind !== 'columns')}
            open={design?.selected ?? null}
            onOpen={(key) => design?.select(key ?? block.key)}
            empty="Nothing yet."
            Form={Form}
            onChange={(blocks, touching) => {
              const changed = columns.map((one, at) => (at === index ? blocks : one))
              onChange({ ...block, columns: changed }, touching)
            }}
          />
        </fieldset>
      ))}
    </>
  )
}

/** What stood in a column that goes moves to the one before it. */
function partedBy(block: ColumnsBlock, parting: string): ColumnsBlock {
  const widths = parting.split('-').map(Number)
  const { columns } = block
  const kept = widths.map((_, index) => columns[index] ?? [])
  const gone = columns.slice(widths.length).flat()
  const last = kept.length - 1
  const { widths: _before, ...rest } = block
  const parted = kept.map((column, index) => (index === last ? [...column, ...gone] : column))
  const isEven = widths.every((width) => width === widths[0])
  return { ...rest, columns: parted, ...(!isEven && { widths }) }
}
