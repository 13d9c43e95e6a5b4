import type { ReactNode } from 'react'
import { FONTS, type Brand, type FontName } from '../../../core/messages/brand.ts'
import { contrast, ENOUGH_CONTRAST } from '../../../core/shared/contrast.ts'
import { AreaField, ChoiceField, Field, NumberField, TextField } from '../../ui/fields/fields.tsx'
import { LinksField } from '../../ui/fields/LinksField.tsx'
import { ImageUpload } from '../../ui/mail/ImageUpload.tsx'

interface Props {
  brand: Brand
  onChange: (brand: Brand) => void
}

const FONT_CHOICES = Object.fromEntries(
  Object.entries(FONTS).map(([name, { label }]) => [name, label]),
) as Record<FontName, string>

const COLOURS = {
  ground: 'Around it',
  paper: 'Behind the text',
  ink: 'Text',
  accent: 'Buttons and links',
  onAccent: 'Words on buttons',
} as const
type ColourName = keyof typeof COLOURS

/** What can be set about a brand. */
export function BrandForm({ brand, onChange }: Props): ReactNode {
  const set = (to: Partial<Brand>) => onChange({ ...brand, ...to })
  const { fonts } = brand
  return (
    <>
      <h2 className="mb-2 text-base">Name and logo</h2>
      <TextField label="Name, in place of a logo" value={brand.name} onChange={(name) => set({ name })} />
      <LogoForm brand={brand} onChange={onChange} />
      <h2 className="mt-3 mb-2 text-base">Colours</h2>
      <div className="grid grid-cols-2 gap-x-3">
        {(Object.keys(COLOURS) as ColourName[]).map((name) => (
          <ColourField
            key={name}
            label={COLOURS[name]}
            value={brand.colours[name]}
            onChange={(colour) => set({ colours: { ...brand.colours, [name]: colour } })}
          />
        ))}
      </div>
      <ContrastNotes brand={brand} />
      <h2 className="mt-3 mb-2 text-base">Typefaces</h2>
      <div className="flex gap-3">
        <ChoiceField label="Headings" value={fonts.headings} choices={FONT_CHOICES} onChange={(headings) => set({ fonts: { ...fonts, headings } })} />
        <ChoiceField label="Text" value={fonts.text} choices={FONT_CHOICES} onChange={(text) => set({ fonts: { ...fonts, text } })} />
      </div>
      <p className="mb-3 text-xs text-secondary">Only those that mail programs have: others are rarely loaded.</p>
      <h2 className="mt-3 mb-2 text-base">Under every message</h2>
      <AreaField label="Footer" rows={2} value={brand.footer} onChange={(footer) => set({ footer })} />
      <AreaField label="Postal address" rows={3} value={brand.postalAddress} onChange={(postalAddress) => set({ postalAddress })} />
      <TextField label="Where help is" value={brand.helpEmail} onChange={(helpEmail) => set({ helpEmail })} />
      <span className="field-label">Links</span>
      <LinksField value={brand.links} most={8} onChange={(links) => set({ links })} />
      <span className="field-label">Places elsewhere, for the block of that name</span>
      <LinksField value={brand.social} most={8} onChange={(social) => set({ social })} />
    </>
  )
} // prettier-ignore

function LogoForm({ brand, onChange }: Props): ReactNode {
  const { logo } = brand
  if (!logo) {
    return (
      <ImageUpload
        onStored={({ url, width, height }) => {
          const shown = Math.min(width, 160)
          onChange({
            ...brand,
            logo: {
              src: url,
              alt: brand.name,
              width: Math.max(16, shown),
              height: Math.max(8, Math.min(400, Math.round((height * shown) / width))),
            },
          })
        }}
      />
    )
  }
  const set = (to: Partial<NonNullable<Brand['logo']>>) =>
    onChange({ ...brand, logo: { ...logo, ...to } })
  return (
    <>
      <TextField label="What the logo says" value={logo.alt} onChange={(alt) => set({ alt })} />
      <div className="flex items-end gap-2">
        <NumberField
          label="Width in pixels"
          min={16}
          max={600}
          value={logo.width}
          onChange={
            (width) =>
            set({ width, height: Math.max(8, Math.min(400, Math.round((logo.height * width) / logo.width))) }) // prettier-ignore
          }
        />
        <button
          type="button"
          className="btn btn-sm mb-3"
          onClick={() => onChange({ ...brand, logo: null })}
        >
          No logo
        </button>
      </div>
    </>
  )
}

interface ColourProps {
  label: string
  value: string
  onChange: (colour: string) => void
}

function ColourField({ label, value, onChange }: ColourProps): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <span className="flex items-center gap-2">
          <input
            id={id}
            type="color"
            className="h-8 w-12 cursor-pointer rounded-field border border-base-300 bg-base-100 p-0.5"
            value={value}
            onChange={(event) => onChange(event.target.value)}
          />
          <span className="font-mono text-xs">{value}</span>
        </span>
      )}
    </Field>
  )
}

const PAIRS = [
  ['ink', 'paper', 'The text'],
  ['accent', 'paper', 'A link'],
  ['onAccent', 'accent', 'What stands on buttons'],
] as const

/** What some people could not read. */
function ContrastNotes({ brand: { colours } }: { brand: Brand }): ReactNode {
  return PAIRS.filter(([front, back]) => contrast(colours[front], colours[back]) < ENOUGH_CONTRAST).map(
    ([front, back, what]) => (
      <p key={what} role="status" className="mb-2 text-xs text-accent">
        {what} is hard to read: its contrast is {contrast(colours[front], colours[back]).toFixed(1)},
        and {ENOUGH_CONTRAST} is the least for everybody.
      </p>
    ),
  )
} // prettier-ignore
