import { z } from 'zod'
import { languageTag } from '../blocks/translation.ts'
import { brandLanguageSchema } from './fixedWords.ts'
import { isOwnFile } from './ownFiles.ts'

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'must be a colour like #0f5d5a')
const link = z.url({ protocol: /^https?$/ }).max(2000)

/** Typefaces that mail programs have; others are rarely loaded. */
export const FONTS = {
  sans: { label: 'Helvetica, Arial', stack: 'Helvetica, Arial, sans-serif' },
  humanist: { label: 'Trebuchet', stack: '"Trebuchet MS", Helvetica, sans-serif' },
  verdana: { label: 'Verdana', stack: 'Verdana, Geneva, sans-serif' },
  serif: { label: 'Georgia', stack: 'Georgia, "Times New Roman", serif' },
  palatino: { label: 'Palatino', stack: '"Palatino Linotype", Palatino, Georgia, serif' },
} as const
export type FontName = keyof typeof FONTS
const font = z.enum(Object.keys(FONTS) as [FontName, ...FontName[]])

/** What every designed message of a shop has in common. Travels as a JSON document. */
export const brandSchema = z.strictObject({
  format: z.literal('yomble.brand'),
  formatVersion: z.literal(1),
  /** What the shop is called in its messages. */
  name: z.string().max(120),
  /** Shown on top; left out: the shop's name in words. */
  logo: z
    .strictObject({
      src: z.union([z.string().refine(isOwnFile), link]),
      alt: z.string().max(120),
      width: z.int().min(16).max(600),
      height: z.int().min(8).max(400),
    })
    .nullable(),
  colours: z.strictObject({
    /** Around the message. */
    ground: colour,
    /** Behind the text. */
    paper: colour,
    ink: colour,
    /** Buttons, and links. */
    accent: colour,
    onAccent: colour,
  }),
  fonts: z.strictObject({ headings: font, text: font }),
  /** Under everything; a way out and the postal address stand there too. */
  footer: z.string().max(1000),
  postalAddress: z.string().max(500),
  /** Where help is; stands in help blocks. */
  helpEmail: z.string().max(254),
  links: z.array(z.strictObject({ label: z.string().min(1).max(60), href: link })).max(8),
  /** The footer and the fixed words in further languages. */
  languages: z.record(languageTag, brandLanguageSchema).optional(),
  social: z.array(z.strictObject({ label: z.string().min(1).max(60), href: link })).max(8),
})
export type Brand = z.infer<typeof brandSchema>

/** What a shop begins with. */
export const plainBrand = (name: string): Brand => ({
  format: 'yomble.brand',
  formatVersion: 1,
  name,
  logo: null,
  colours: {
    ground: '#f2efe8',
    paper: '#ffffff',
    ink: '#1d2826',
    accent: '#0f5d5a',
    onAccent: '#ffffff',
  },
  fonts: { headings: 'sans', text: 'sans' },
  footer: '',
  postalAddress: '',
  helpEmail: '',
  links: [],
  social: [],
})
