import type { ReactNode } from 'react'
import type { Block, ItemsBlock, LeafBlock, ProductsBlock } from '../../../../core/blocks/blocks.ts'
import { AreaField, ChoiceField, NumberField, TextField } from '../../../ui/fields/fields.tsx'
import { OptionalCondition } from '../../../ui/conditions/OptionalCondition.tsx'
import { LineField } from '../text/LineField.tsx'
import { RichField } from '../text/RichField.tsx'
import type { BlockFormProps } from './BlockList.tsx'
import { ColumnsForm } from './ColumnsForm.tsx'
import { StyleForm } from './style/StyleForm.tsx'
import { KeepForm, KeptForm } from './KeptForm.tsx'
import { fittedImage, WAYS } from './blockKinds.ts'
import { LinksField } from '../../../ui/fields/LinksField.tsx'
import { ImageUpload } from '../../../ui/mail/ImageUpload.tsx'
import { TickField } from '../../../ui/fields/TickField.tsx'

type Props = BlockFormProps

/** What can be changed about a block, and for whom it is there. */
export function BlockForm(props: Props): ReactNode {
  const { block, onChange, isKept = false, isInColumn = false } = props
  const looks = <StyleForm block={block} isInColumn={isInColumn} onChange={onChange} />
  if (isKept) {
    return (
      <>
        <Own {...props} />
        {looks}
      </>
    )
  }
  const canBeKept = block.kind !== 'columns' && block.kind !== 'kept' && !block.onlyIf
  return (
    <>
      <Own {...props} />
      {looks}
      {canBeKept && <KeepForm block={block} onKept={onChange} />}
      <OptionalCondition
        title="Shown only if"
        none="Shown to everyone."
        value={block.onlyIf}
        onChange={(onlyIf) => {
          const { onlyIf: _before, ...rest } = block
          onChange(onlyIf ? { ...block, onlyIf } : rest, `only if ${block.key}`)
        }}
      />
    </>
  )
}

/** The same for a block within a column. */
const ColumnBlockForm = (props: Props): ReactNode => <BlockForm {...props} isInColumn />

const LEVELS = { 1: 'over the whole message', 2: 'over a part of it' } as const

function Own({ block, all, kinds, onChange }: Props): ReactNode {
  switch (block.kind) {
    case 'heading':
      return (
        <>
          <LineField label="Heading" value={block.text} onChange={(text) => onChange({ ...block, text }, block.key)} />
          <ChoiceField label="Rank" value={String(block.level) as '1' | '2'} choices={LEVELS} onChange={(level) => onChange({ ...block, level: level === '1' ? 1 : 2 })} />
        </>
      )
    case 'text':
      return <RichField label="Text" value={block.text} onChange={(text) => onChange({ ...block, text }, block.key)} />
    case 'button':
      return (
        <>
          <LineField label="Words on the button" value={block.label} onChange={(label) => onChange({ ...block, label }, block.key)} />
          <LineField label="Where it leads" value={block.href} onChange={(href) => onChange({ ...block, href }, `${block.key} href`)} />
        </>
      )
    case 'kept':
      return <KeptForm block={block} all={all} kinds={kinds} onChange={onChange} Form={BlockForm} />
    case 'columns':
      return <ColumnsForm block={block} all={all} kinds={kinds} onChange={onChange} Form={ColumnBlockForm} />
    case 'coupon':
    case 'divider':
    case 'help':
    case 'html':
    case 'image':
    case 'items':
    case 'menu':
    case 'products':
    case 'social':
    case 'summary':
    case 'tracking':
      return <SmallForm block={block} onChange={onChange} />
  }
} // prettier-ignore

type Small = Exclude<LeafBlock, { kind: 'heading' | 'text' | 'button' | 'kept' }>

function SmallForm({ block, onChange }: { block: Small } & Pick<Props, 'onChange'>): ReactNode {
  switch (block.kind) {
    case 'image':
      return <ImageForm block={block} onChange={onChange} />
    case 'items':
      return <ItemsForm block={block} onChange={onChange} />
    case 'summary':
      return (
        <>
          <p className="mb-2 text-secondary">What the total is made of, how it is paid, and the total.</p>
          <TickField className="mb-3" checked={block.addresses ?? false} onChange={(checked) => onChange({ ...block, addresses: checked })}>
            With addresses
          </TickField>
        </>
      )
    case 'tracking':
      return <LineField label="Words on the button" value={block.label} onChange={(label) => onChange({ ...block, label }, block.key)} />
    case 'coupon':
      return <LineField label="Words above the code" value={block.text} onChange={(text) => onChange({ ...block, text }, block.key)} />
    case 'help':
      return <LineField label="Words before the address" value={block.text} onChange={(text) => onChange({ ...block, text }, block.key)} />
    case 'products':
      return <ProductsForm block={block} onChange={onChange} />
    case 'menu':
      return <LinksField most={6} value={block.links} onChange={(links) => onChange({ ...block, links }, block.key)} />
    case 'html':
      return (
        <>
          <AreaField label="HTML" rows={8} value={block.html} onChange={(html) => onChange({ ...block, html }, block.key)} />
          <p className="mb-3 text-xs text-secondary">Scripts, forms and what mail programs refuse are taken out. Merge fields can stand in the text.</p>
        </>
      )
    case 'divider':
    case 'social':
      return <p className="mb-3 text-secondary">{NOTES[block.kind]}</p>
  }
} // prettier-ignore

const NOTES = {
  divider: 'A thin line in the colours of the brand.',
  social: 'The links of the brand, under Settings.',
} as const

function ProductsForm({
  block,
  onChange,
}: { block: ProductsBlock } & Pick<Props, 'onChange'>): ReactNode {
  const set = (to: Partial<ProductsBlock>) => onChange({ ...block, ...to }, block.key)
  return (
    <>
      <LineField label="Heading above them" value={block.heading ?? ''} onChange={(heading) => {
        const { heading: _before, ...rest } = block
        onChange(heading === '' ? rest : { ...block, heading }, `${block.key} heading`)
      }} />
      <ChoiceField label="Which" value={block.by} choices={WAYS} onChange={(by) => set({ by })} />
      <div className="flex gap-2">
        <NumberField label="How many at most" min={1} max={9} value={block.count} onChange={(count) => set({ count })} />
        <NumberField label="Side by side" min={1} max={3} value={block.columns} onChange={(columns) => set({ columns })} />
      </div>
      <TickField className="mb-1" checked={block.prices} onChange={(checked) => set({ prices: checked })}>
        With prices
      </TickField>
      <TickField className="mb-2" checked={block.images} onChange={(checked) => set({ images: checked })}>
        With pictures
      </TickField>
      <p className="mb-3 text-xs text-secondary">
        Never what they bought in the last 30 days, what the message is about, or what is out of stock. Where too few are found, best sellers follow.
      </p>
    </>
  )
} // prettier-ignore

const ITEM_PARTS = {
  prices: 'With prices',
  images: 'With pictures, and leading to the products',
  variants: 'With the kind that was taken',
  grid: 'Side by side instead of one below the other',
} as const

function ItemsForm({ block, onChange }: { block: ItemsBlock } & Pick<Props, 'onChange'>): ReactNode {
  return (Object.keys(ITEM_PARTS) as (keyof typeof ITEM_PARTS)[]).map((part) => (
    <TickField key={part} className="mb-1" checked={block[part] ?? false} onChange={(checked) => onChange({ ...block, [part]: checked })}>
      {ITEM_PARTS[part]}
    </TickField>
  ))
} // prettier-ignore

type ImageBlock = Extract<Block, { kind: 'image' }>

function ImageForm({
  block,
  onChange,
}: { block: ImageBlock } & Pick<Props, 'onChange'>): ReactNode {
  return (
    <>
      <ImageUpload onStored={({ url, width, height }) => onChange({ ...block, src: url, ...fittedImage(width, height) })} />
      <TextField label="Address of the image" value={block.src} onChange={(src) => onChange({ ...block, src }, `${block.key} src`)} />
      <LineField label="What it shows, for those who do not see it" value={block.alt} onChange={(alt) => onChange({ ...block, alt }, block.key)} />
      <div className="flex gap-2">
        <NumberField label="Width in pixels" min={1} max={600} value={block.width} onChange={(width) => onChange({ ...block, width }, `${block.key} width`)} />
        <NumberField label="Height; 0 as it is" min={0} max={2000} value={block.height ?? 0} onChange={(height) => {
          const { height: _before, ...rest } = block
          onChange(height > 0 ? { ...block, height } : rest, `${block.key} height`)
        }} />
      </div>
      <LineField label="Where it leads, if anywhere" value={block.href ?? ''} onChange={(href) => {
        const { href: _before, ...rest } = block
        onChange(href === '' ? rest : { ...block, href }, `${block.key} href`)
      }} />
    </>
  )
} // prettier-ignore
