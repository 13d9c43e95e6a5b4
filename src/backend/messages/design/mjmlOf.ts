import type { Block } from '../../../core/blocks/blocks.ts'
import { blockMjml } from './blockMjml.ts'
import { escapeHtml } from '../html.ts'
import { DARK, darkBandColours } from '../../../core/messages/palette.ts'
import { BANDS } from '../../../core/blocks/style.ts'
import { fixedWords, footerIn } from '../../../core/messages/fixedWords.ts'
import { mix } from '../../../core/messages/colours.ts'
import type { Writer } from './writer.ts'

export interface DesignOptions {
  lang: string
  /** Marketing has a way out in its footer. */
  hasWayOut: boolean
  /** Says what an order is so that mail programs can read it (schema.org). */
  hasOrderData: boolean
  /** With classes by which blocks are found again, for those who write on the message. */
  isMarked: boolean
}

/** A whole designed email as MJML: head, logo, blocks, footer. */
export function mjmlOf(blocks: readonly Block[], writer: Writer, options: DesignOptions): string {
  const { brand, slots } = writer
  const { colours } = brand
  const data = options.hasOrderData ? `<mj-raw>${slots.token({ kind: 'orderData' })}</mj-raw>` : ''
  return `<mjml lang="${escapeHtml(options.lang)}">
  <mj-head>
    <mj-title>${slots.token({ kind: 'subject' })}</mj-title>
    <mj-preview>${slots.token({ kind: 'preview' })}</mj-preview>
    <mj-raw><meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"></mj-raw>
    ${data}
    <mj-style>${NARROW}${darkStyles(writer)}</mj-style>
  </mj-head>
  <mj-body css-class="ground" width="600px" background-color="${colours.ground}">
    ${head(writer)}
    ${blocks.map((block) => blockMjml(block, writer)).join('\n')}
    <mj-section css-class="band-paper" background-color="${colours.paper}" padding="0 0 16px"><mj-column></mj-column></mj-section>
    ${foot(writer, options)}
  </mj-body>
</mjml>`
}

function head({ brand, headingFont }: Writer): string {
  const { logo, colours } = brand
  const mark = logo
    ? `<mj-image src="${escapeHtml(logo.src)}" alt="${escapeHtml(logo.alt)}" width="${logo.width}px" height="${logo.height}px" align="left" padding="0" />`
    : `<mj-text css-class="ink" font-family="${headingFont}" font-size="18px" font-weight="bold" color="${colours.ink}" padding="0">${escapeHtml(brand.name)}</mj-text>`
  return `<mj-section padding="24px 0 0"><mj-column></mj-column></mj-section>
    <mj-section css-class="band-paper" background-color="${colours.paper}" padding="28px 32px 20px"><mj-column>${mark}</mj-column></mj-section>`
}

function foot(writer: Writer, { hasWayOut, lang }: DesignOptions): string {
  const { brand, slots, textFont } = writer
  const quiet = mix(brand.colours.ink, brand.colours.ground, 0.35)
  const links = brand.links.map(
    ({ label, href }) => `<a href="${escapeHtml(href)}" style="color:${quiet}">${escapeHtml(label)}</a>`, // prettier-ignore
  )
  const wayOut = hasWayOut
    ? `<a href="${slots.token({ kind: 'wayOut' })}" style="color:${quiet}">${escapeHtml(fixedWords(lang, brand.languages).wayOut)}</a>`
    : ''
  const paragraphs = [
    escapeHtml(footerIn(brand, lang)).replaceAll('\n', '<br>'),
    escapeHtml(brand.postalAddress).replaceAll('\n', ', '),
    links.join(' &nbsp;·&nbsp; '),
    wayOut,
  ]
    .filter((one) => one !== '')
    .map((one) => `<p style="margin:0 0 8px">${one}</p>`)
  return `<mj-section padding="20px 32px 32px"><mj-column><mj-text css-class="quiet" font-family="${textFont}" font-size="13px" line-height="1.5" color="${quiet}" padding="0">${paragraphs.join('')}</mj-text></mj-column></mj-section>`
}

/** On a phone products stand one below the other: three in a row would break words. Blocks may be for phones, or not. */
const NARROW = `.only-phones,.only-phones-outlook{display:none;mso-hide:all}
@media only screen and (max-width:480px){.product{display:block!important;width:auto!important;padding-right:0!important}
.only-phones{display:block!important}.only-wide{display:none!important}}
`

/** For mail programs that have a dark side and let messages say what theirs is. */
function darkStyles({ brand: { colours } }: Writer): string {
  const { accent: link, rule } = darkBandColours(colours, 'paper')
  const bands = BANDS.filter((band) => band !== 'accent').map((band) => {
    const fill = darkBandColours(colours, band).band
    return `.band-${band},.band-${band}>table{background:${fill} !important;background-color:${fill} !important}`
  })
  return `:root{color-scheme:light dark;supported-color-schemes:light dark}
@media (prefers-color-scheme: dark){
body,.ground,.ground>div{background:${DARK.ground} !important;background-color:${DARK.ground} !important}
${bands.join('\n')}
.ink div,.ink p,.ink table,.ink td,.ink h1,.ink h2,.ink li{color:${DARK.ink} !important}
.ink a,.strong div,.strong p,.strong h1,.strong h2,.strong a{color:${link} !important}
.quiet div,.quiet p,.quiet h1,.quiet h2,.quiet li,.quiet a{color:${DARK.quiet} !important}
.ink td{border-color:${rule} !important}
.rule p{border-top-color:${rule} !important}
.outlined td{border-color:${link} !important;background:transparent !important}.outlined a{color:${link} !important;background:transparent !important}
}`
}
