import { groupsOf } from '../../backend/addresses/index.ts'
import {
  renderEmail,
  RenderError,
  renderNote,
  renderSms,
  keptBlocks,
  MAX_HTML_BYTES,
  urlsIn,
  withShortLinks,
} from '../../backend/messages/index.ts'
import type { Product, Recommender } from '../../backend/recommend/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { needsOfAll } from '../../core/conditions/needs.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { Brand } from '../../core/messages/brand.ts'
import { addressesOf } from '../../core/check/message/addressFindings.ts'
import type { TagSyntax } from '../../core/messages/foreignTags.ts'
import { inTheirLanguage } from '../../core/messages/inTheirLanguage.ts'
import { FORMATS } from '../../core/messages/formats.ts'
import { MERGE_FIELDS } from '../../core/messages/mergeFields.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { blockConditions } from '../../core/workflow/compile.ts'
import {
  type MessageStep,
  type SmsStep,
  isToCustomer,
  type EmailStep,
} from '../../core/workflow/steps.ts'
import { subjectOf, type Trigger } from '../../core/workflow/trigger.ts'
import { loadFacts, type FactRequest } from '../live/facts/index.ts'
import { samplesFor, type Sample } from './samples.ts'

export interface PreviewRequest {
  trigger: Trigger
  message: MessageStep
  brand?: Brand | undefined
  sample: Pick<Sample, 'customerId' | 'subjectId' | 'line'> | null
  hasCoupon: boolean
  /** Blocks can be found again in the HTML. */
  marked?: boolean | undefined
  /** Which of its languages; left out: that of the one it is for. */
  language?: string | undefined
  /** Merge fields as another system writes them. */
  tags?: TagSyntax | undefined
  /** The address people reach Yomble at. */
  publicUrl: string
  recommender: Recommender
}

export interface PreviewResult {
  sample: Sample | null
  to: string
  subject: string
  previewText: string
  html: string | null
  text: string
  bytes: number
  fields: Record<string, string>
  /** What is worth a thought about it as it is seen, a sentence each. */
  notes: string[]
  problem: string | null
}

const NOTHING: PreviewResult = {
  sample: null,
  to: '',
  subject: '',
  previewText: '',
  html: null,
  text: '',
  bytes: 0,
  fields: {},
  notes: [],
  problem: null,
}

/** A message as somebody would get it now. Nothing is sent or kept. */
export async function previewMessage(
  db: Database,
  shopId: string,
  request: PreviewRequest,
): Promise<PreviewResult> {
  const shop = await findShop(db, shopId)
  const shown = await factsOfSample(db, shop, request)
  if (typeof shown === 'string') return { ...NOTHING, problem: shown }
  return { ...(await previewWith(db, shop, request, shown.facts)), sample: shown.newest }
}

/** What a message is rendered with, whoever gets it. */
type Rendering = Pick<
  PreviewRequest,
  'message' | 'brand' | 'marked' | 'language' | 'tags' | 'publicUrl' | 'recommender'
>

/** A message as somebody gets it of whom this is known. Nothing is sent or kept. */
export async function previewWith(
  db: Database,
  shop: Shop,
  rendering: Rendering,
  facts: Facts,
): Promise<PreviewResult> {
  const { message } = rendering
  const known = {
    fields: fieldsOf(
      isToCustomer(message) ? inTheirLanguage(message, facts, rendering.language).facts : facts,
    ),
    to: await addressOf(db, shop.id, message, facts),
  }
  try {
    return { ...(await rendered(db, shop, rendering, facts)), ...known }
  } catch (error) {
    if (!(error instanceof RenderError)) throw error
    return { ...NOTHING, ...known, problem: error.message }
  }
}

/**
 * What is known of the one a message is looked at for, and who that is where nobody was chosen; what is
 * in the way where there is nobody.
 */
export async function factsOfSample(
  db: Database,
  shop: Shop,
  request: PreviewRequest,
): Promise<{ facts: Facts; newest: Sample | null } | string> {
  const [newest] = request.sample ? [] : await samplesFor(db, shop.id, request.trigger, '')
  const sample = request.sample ?? newest
  if (!sample) return 'There is nobody yet whom this could be shown for.'
  const facts = await factsFor(db, shop, request, sample)
  if (!facts) return 'That customer is not there any more.'
  return { facts, newest: newest ?? null }
}

async function factsFor(
  db: Database,
  shop: Shop,
  { trigger, message, hasCoupon }: PreviewRequest,
  { customerId, subjectId, line }: Pick<Sample, 'customerId' | 'subjectId' | 'line'>,
): Promise<Facts | null> {
  const { now } = await readClock(db, shop.id)
  const conditions = [...blockConditions(message).values()]
  const asked: FactRequest = {
    customerId,
    workflowId: '',
    runId: null,
    subjectKind: subjectOf(trigger),
    subjectId,
    line,
    eventSeq: null,
    needs: needsOfAll(conditions.map(({ needs }) => needs)),
  }
  const source = await loadFacts(db, shop, [asked], now)
  if (!source.has(customerId)) return null
  const facts = source.of(asked)
  const code = { step: 'sample', code: 'SAMPLE-CODE', expiresAt: now + DAY_MS }
  return { ...facts, coupons: hasCoupon ? [code] : [] }
}

async function rendered(
  db: Database,
  shop: Shop,
  { message, brand, marked, language, tags, publicUrl, recommender }: Rendering,
  facts: Facts,
): Promise<PreviewResult> {
  switch (message.kind) {
    case 'sms':
      return { ...NOTHING, text: textOf(message, facts, publicUrl, language) }
    case 'note':
      return { ...NOTHING, ...renderNote(message, facts) }
    case 'email':
      return renderedEmail(
        db,
        shop,
        { message, brand, marked, language, tags, publicUrl, recommender },
        facts,
      )
  }
}

type EmailRequest = Pick<
  PreviewRequest,
  'brand' | 'marked' | 'language' | 'tags' | 'publicUrl' | 'recommender'
> & {
  message: EmailStep
}

async function renderedEmail(
  db: Database,
  shop: Shop,
  { message, brand, marked, language, tags, publicUrl, recommender }: EmailRequest,
  facts: Facts,
): Promise<PreviewResult> {
  const blocksIf = blockConditions(message)
  const asked = { facts, enteredAt: facts.now }
  // Whoever writes the text before the subject sees it, too.
  const isBare = inTheirLanguage(message, facts, language).step.subject.trim() === ''
  const step = isBare ? withSubject(message, 'No subject yet') : message
  const shown: Product[] = []
  const mail = await renderEmail(step, facts, {
    brand: brand ?? shop.brand,
    publicUrl,
    unsubscribeUrl: message.purpose === 'marketing' ? previewWayOut(publicUrl) : null,
    // What is in a kept block asks for the place it is used in.
    holds: (block) => blocksIf.get(block.split('.')[0] ?? block)?.holds(asked) ?? true,
    keptOf: (ids) => keptBlocks(db, shop.id, ids),
    ...(marked && { isMarked: true }),
    inLanguage: language,
    tags,
    productsOf: async (block) => {
      const products = await recommender.recommend(db, shop.id, block, facts)
      shown.push(...products)
      return products
    },
    looksOf: () => recommender.looks(db, shop.id, facts.now),
  })
  return {
    ...NOTHING,
    ...mail,
    ...(isBare && { subject: '' }),
    bytes: Buffer.byteLength(mail.html ?? ''),
    notes: notesOn(mail.html ?? '', shown),
  }
}

/** From here on there is little room left for a longer order. */
const NEARLY_TOO_LARGE = 0.8 * MAX_HTML_BYTES

function notesOn(html: string, products: readonly Product[]): string[] {
  const bytes = Buffer.byteLength(html)
  const unlinked = products.filter(({ url }) => url === null).length
  return [
    ...(bytes > NEARLY_TOO_LARGE ? [`It has ${Math.ceil(bytes / 1000)} kB. Beyond ${Math.floor(MAX_HTML_BYTES / 1000)} kB nothing is sent, for some mail programs cut it off there: an order with more lines would be.`] : []),
    ...(unlinked > 0 ? [`${unlinked} of ${products.length} recommended products lead nowhere: the shop has not said where they are. Views of products, or orders, bring their addresses.`] : []),
  ] // prettier-ignore
}

/** The message with a subject in each of its languages. */
const withSubject = (message: EmailStep, subject: string): EmailStep => ({
  ...message,
  subject,
  ...(message.translations && {
    translations: Object.fromEntries(
      Object.entries(message.translations).map(([tag, said]) => [tag, { ...said, subject }]),
    ),
  }),
})

/** Stands where the way out will be, and stops nobody's mail. */
export const previewWayOut = (publicUrl: string): string => `${publicUrl}/u/preview`

/** A text message with links as short as they will be. */
function textOf(
  step: SmsStep,
  facts: Facts,
  publicUrl: string,
  language: string | undefined,
): string {
  const text = renderSms(step, facts, language)
  if (step.longLinks) return text
  return withShortLinks(text, new Map(urlsIn(text).map((url) => [url, `${publicUrl}/s/EXAMPLE1`])))
}

/** What the merge fields say, by their keys; what else they can be written as, by `key as format`. */
function fieldsOf(facts: Facts): Record<string, string> {
  const said = MERGE_FIELDS.flatMap(({ key, formats, print }) => {
    const others = formats === null ? [] : FORMATS[formats]
    return [
      [key, print(facts)],
      ...others.map((format) => [`${key} as ${format.key}`, print(facts, format.key)]),
    ] as const
  })
  return Object.fromEntries(said.filter((one): one is [string, string] => Boolean(one[1])))
}

async function addressOf(
  db: Database,
  shopId: string,
  message: MessageStep,
  { customer }: Facts,
): Promise<string> {
  if (isToCustomer(message)) return customer.channels[message.kind].address ?? ''
  const { to, groups } = message
  const staff = groups ? await groupsOf(db, shopId, groups) : []
  return addressesOf(to, groups, staff).join(', ')
}
