import type { CustomerData } from '../core/events/entities.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { unitHash } from '../core/shared/hash.ts'
import type { Random } from '../core/shared/seededRandom.ts'
import { formatInstant } from '../core/shared/time.ts'

interface Country {
  code: string
  language: string
  /** Unknown for some: they are where one country has several, or the shop never asked. */
  zone: string | null
  share: number
  first: readonly string[]
  last: readonly string[]
}

const list = (names: string): string[] => names.split(' ')

const COUNTRIES: readonly Country[] = [
  { code: 'PT', language: 'pt-PT', zone: 'Europe/Lisbon', share: 30, first: list('Ines João Marta Rui Beatriz Tomás Leonor Duarte Conceição Álvaro Filipa Nuno'), last: list('Duarte Ferreira Magalhães Pinto Sequeira Vaz Antunes Brandão Lourenço Quintela') },
  { code: 'DE', language: 'de-DE', zone: 'Europe/Berlin', share: 18, first: list('Anke Jörg Lena Matthias Ute Götz Franziska Henning Sören Margarete'), last: list('Albrecht Böttcher Dreyer Großmann Hartwig Kühn Lindner Möller Seifert Wiegand') },
  { code: 'GB', language: 'en-GB', zone: 'Europe/London', share: 12, first: list('Harriet Oliver Maud Gareth Siân Rupert Edith Callum Nesta Hugh'), last: list('Ashdown Bramley Cotterill Fairhurst Garland Holloway Penrose Thackray Wetherby Yarrow') },
  { code: 'ES', language: 'es-ES', zone: null, share: 9, first: list('Lucía Íñigo Carmen Andrés Nuria Joaquín Pilar Ramón'), last: list('Ibáñez Castaño Peña Rovira Salcedo Urrutia Zamora Núñez') },
  { code: 'FR', language: 'fr-FR', zone: null, share: 8, first: list('Élodie Benoît Maëlle Guillaume Anaïs Étienne Zoé Thierry'), last: list('Bachelet Delacourt Fournier Lemoine Pasquier Rousselot Vauclair L’Hermitte') },
  { code: 'IE', language: 'en-IE', zone: null, share: 5, first: list('Aisling Niamh Cormac Declan Orla Fionn'), last: list('O’Brien O’Dowd Kinsella Mulcahy Tierney McGrath') },
  { code: 'FI', language: 'fi-FI', zone: 'Europe/Helsinki', share: 5, first: list('Aino Väinö Päivi Jukka Säde Ilkka'), last: list('Hämäläinen Korhonen Lehtonen Mäkelä Räsänen Virtanen') },
  { code: 'US', language: 'en-US', zone: 'America/New_York', share: 5, first: list('Dale Martha Wendell June Amos Cora'), last: list('Abernathy Calloway Hollis Pruitt Sayre Whitcomb') },
  { code: 'BR', language: 'pt-BR', zone: 'America/Sao_Paulo', share: 3, first: list('Thaís Otávio Jussara Caetano Iara Moacir'), last: list('Azevedo Barroso Guimarães Nogueira Peçanha Teles') },
  { code: 'NZ', language: 'en-NZ', zone: 'Pacific/Auckland', share: 3, first: list('Aroha Mere Callum Hemi Ngaire Bruce'), last: list('Parata Ngata Sinclair Whaanga McKenzie Tait') },
  { code: 'AU', language: 'en-AU', zone: 'Australia/Lord_Howe', share: 1, first: list('Clive Heather Ross Gower'), last: list('Thompson Wilson Nichols Shick') },
  { code: 'NP', language: 'ne-NP', zone: 'Asia/Kathmandu', share: 1, first: list('Asmita Bishal Sunita Prakash'), last: list('Gurung Shrestha Tamang Rai') },
] // prettier-ignore

const ODD: readonly Partial<CustomerData>[] = [
  { firstName: '美咲', lastName: '佐藤', email: 'misaki.sato@example.org', country: 'JP', language: 'ja-JP', zone: 'Asia/Tokyo' },
  { firstName: null, lastName: null, email: 'workshop@example.net', country: 'PT' },
  { firstName: 'Maximiliane-Friederike', lastName: 'von der Schulenburg-Wolfenbüttel zu Altenhof', email: 'm.f.schulenburg@example.org', country: 'DE', zone: 'Europe/Berlin' },
  { firstName: 'Bartholomew', lastName: 'Nye', email: 'bounce.nye@example.net', country: 'GB', zone: 'Europe/London' },
  { firstName: 'Siobhán', lastName: 'D’Arcy-O’Neill', email: 'siobhan.darcy@example.org', country: 'IE' },
] // prettier-ignore

/** The demo shop's customers, the odd ones first. Addresses are of RFC 2606's example domains. */
export function makePeople(random: Random, count: number): CustomerData[] {
  return Array.from({ length: count }, (_, index) => {
    const ordinary = ordinaryPerson(random, index)
    return { ...ordinary, ...ODD[index], id: ordinary.id }
  })
}

function ordinaryPerson(random: Random, index: number): CustomerData {
  const country = random.weighted(COUNTRIES, ({ share }) => share)
  const firstName = random.pick(country.first)
  const lastName = random.pick(country.last)
  const domain = random.chance(0.5) ? 'example.net' : 'example.org'
  const mailbox = `${ascii(firstName)}.${ascii(lastName)}.${index + 1}`
  return {
    id: `c-${String(index + 1).padStart(4, '0')}`,
    email: `${mailbox}@${domain}`,
    firstName: random.chance(0.06) ? null : firstName,
    lastName: random.chance(0.03) ? null : lastName,
    phone: random.chance(0.3)
      ? `+1202555${String(random.between(100, 199)).padStart(4, '0')}`
      : null,
    zone: random.chance(0.85) ? country.zone : null,
    country: country.code,
    language: country.language,
    birthday: birthdayOf(mailbox),
    emailConsent: random.weighted([true, false, null], (consent) =>
      consent ? 62 : consent === false ? 14 : 24,
    ),
    smsConsent: random.chance(0.15) ? true : null,
  }
}

/** Every third person has said when it is. It draws nothing, so that all else stays as it was. */
function birthdayOf(mailbox: string): string | null {
  if (unitHash(`asked ${mailbox}`) > 1 / 3) return null
  const day = Math.floor(unitHash(`birthday ${mailbox}`) * 365)
  return formatInstant(Date.UTC(2023, 0, 1) + day * DAY_MS).slice(5, 10)
}

/** A name as it may stand before the @: accents, apostrophes and the like taken off. */
function ascii(name: string): string {
  const plain = name
    .normalize('NFD')
    .replaceAll('ß', 'ss')
    .replaceAll(/[^a-zA-Z]/g, '')
  return plain.toLowerCase() || 'friend'
}
