/** What a column of a file is read as. */
export type CellType = 'text' | 'amount' | 'number' | 'moment' | 'yesNo' | 'names'

/** Something a file can tell of a thing. */
export interface Target {
  key: string
  label: string
  type: CellType
  isNeeded?: true
  /** How such columns are called in files, folded: lower case, letters and digits alone. */
  names: readonly string[]
}

export const IMPORT_KINDS = ['customers', 'orders', 'products', 'subscriptions', 'consents', 'suppressions'] as const // prettier-ignore
export type ImportKind = (typeof IMPORT_KINDS)[number]

export const KIND_WORDS: Readonly<Record<ImportKind, string>> = {
  customers: 'Customers',
  orders: 'Orders, a row for each line',
  products: 'Products',
  subscriptions: 'Subscriptions',
  consents: 'Consents',
  suppressions: 'Addresses not to write to',
}

const target = (
  key: string,
  label: string,
  type: CellType,
  names: string,
  isNeeded?: true,
): Target => ({ key, label, type, names: [key.toLowerCase(), ...names.split(' ').filter((one) => one !== '')], ...(isNeeded && { isNeeded }) }) // prettier-ignore

const EMAIL = target(
  'email',
  'email address',
  'text',
  'email emailaddress mail customeremail kundenemail emailadresse',
)
const CUSTOMER_ID = target('customerId', 'customer’s id', 'text', 'customerid customer kundennummer customernumber userid') // prettier-ignore
const CUSTOMER: readonly Target[] = [
  target('firstName', 'first name', 'text', 'firstname givenname vorname prenom nome customerfirstname'),
  target('lastName', 'last name', 'text', 'lastname surname familyname nachname nom apelido customerlastname'),
  target('phone', 'phone number', 'text', 'phone phonenumber telefon telephone mobile mobil'),
  target('country', 'country (two letters)', 'text', 'country countrycode land pays pais'),
  target('language', 'language', 'text', 'language locale sprache'),
  target('zone', 'time zone', 'text', 'zone timezone tz'),
  target('birthday', 'birthday', 'text', 'birthday dateofbirth dob geburtstag'),
  target('emailConsent', 'agrees to marketing by email', 'yesNo', 'emailconsent acceptsmarketing acceptsemailmarketing newsletter marketingconsent subscribed optin'),
  target('smsConsent', 'agrees to marketing by text message', 'yesNo', 'smsconsent acceptssmsmarketing'),
  target('tags', 'tags', 'names', 'tags customertags'),
] // prettier-ignore

/** What each kind of file can tell. */
export const TARGETS: Readonly<Record<ImportKind, readonly Target[]>> = {
  customers: [
    target('id', 'id', 'text', 'id customerid customernumber kundennummer'),
    EMAIL,
    ...CUSTOMER,
    target('createdAt', 'customer since', 'moment', 'createdat created createdon registered since'),
  ],
  orders: [
    target('id', 'id of the order', 'text', 'id orderid'),
    target('number', 'order number', 'text', 'number ordernumber orderno bestellnummer order name', true),
    target('placedAt', 'when it was placed', 'moment', 'placedat createdat created date orderdate datum bestelldatum', true),
    CUSTOMER_ID,
    EMAIL,
    target('status', 'status', 'text', 'status orderstatus financialstatus'),
    target('currency', 'currency', 'text', 'currency currencycode wahrung waehrung'),
    target('total', 'order total', 'amount', 'total ordertotal totalprice amount gesamt summe', true),
    target('shippingCountry', 'delivery country (two letters)', 'text', 'shippingcountry shippingcountrycode deliverycountry lieferland'),
    target('paymentMethod', 'payment method', 'text', 'paymentmethod payment zahlungsart'),
    target('couponCodes', 'coupon codes', 'names', 'couponcodes discountcode discountcodes couponcode coupon'),
    target('productId', 'product’s id or SKU', 'text', 'productid sku lineitemsku itemsku article artikelnummer'),
    target('title', 'product', 'text', 'title product productname lineitemname itemname lineitemtitle artikel', true),
    target('category', 'category of the product', 'text', 'category productcategory producttype kategorie'),
    target('variant', 'variant', 'text', 'variant varianttitle lineitemvariant'),
    target('quantity', 'quantity', 'number', 'quantity qty lineitemquantity itemquantity menge anzahl'),
    target('unitPrice', 'price of one', 'amount', 'unitprice price lineitemprice itemprice preis einzelpreis'),
    ...CUSTOMER,
  ],
  products: [
    target('id', 'id or SKU', 'text', 'id productid sku handle artikelnummer', true),
    target('title', 'title', 'text', 'title name product productname', true),
    target('category', 'category', 'text', 'category producttype type googleproductcategory kategorie'),
    target('price', 'price', 'amount', 'price unitprice variantprice preis', true),
    target('currency', 'currency', 'text', 'currency'),
    target('url', 'page', 'text', 'url link producturl'),
    target('imageUrl', 'picture', 'text', 'imageurl image imagelink imagesrc picture'),
    target('inStock', 'in stock', 'yesNo', 'instock available availability'),
  ],
  subscriptions: [
    target('id', 'id', 'text', 'id subscriptionid', true),
    CUSTOMER_ID,
    EMAIL,
    target('status', 'status', 'text', 'status'),
    target('productId', 'product’s id', 'text', 'productid sku', true),
    target('title', 'product', 'text', 'title product productname', true),
    target('amount', 'amount', 'amount', 'amount price total', true),
    target('currency', 'currency', 'text', 'currency'),
    target('interval', 'paid every', 'text', 'interval frequency billinginterval'),
    target('startedAt', 'started', 'moment', 'startedat started createdat', true),
    target('nextPaymentAt', 'next payment', 'moment', 'nextpaymentat nextpayment nextbilling nextbillingdate'),
    target('endsAt', 'ends', 'moment', 'endsat ends enddate'),
  ],
  consents: [
    CUSTOMER_ID,
    EMAIL,
    target('channel', 'channel: email or sms', 'text', 'channel'),
    target('given', 'yes or no', 'yesNo', 'given consent optin subscribed status', true),
    target('how', 'how it was said', 'text', 'how source method'),
    target('at', 'when it was said', 'moment', 'at date consentdate optindate timestamp', true),
  ],
  suppressions: [
    { ...EMAIL, isNeeded: true },
    target('reason', 'why: bounced, unsubscribed, complained', 'text', 'reason why type cause status'),
    target('at', 'since when', 'moment', 'at date since timestamp created'),
  ],
} // prettier-ignore

/** Which column tells what: the place of a column for each target that the file has. */
export type Mapping = Readonly<Record<string, number>>

const folded = (name: string): string => name.normalize('NFD').toLowerCase().replace(/[^a-z0-9]/g, '') // prettier-ignore

/** Recognises columns by their heads; each column tells one thing, and each thing stands in one column. */
export function recognised(kind: ImportKind, heads: readonly string[]): Mapping {
  const names = heads.map(folded)
  const mapping: Record<string, number> = {}
  const taken = new Set<number>()
  for (const { key, names: known } of TARGETS[kind]) {
    const at = known.map((name) => names.findIndex((own, index) => own === name && !taken.has(index))).find((index) => index !== -1) // prettier-ignore
    if (at === undefined) continue
    mapping[key] = at
    taken.add(at)
  }
  return mapping
}

/** The kind of file that these heads look like most; what is needed counts more. */
export function likelyKind(heads: readonly string[]): ImportKind {
  const score = (kind: ImportKind): number => {
    const mapping = recognised(kind, heads)
    const needed = TARGETS[kind].filter(({ isNeeded }) => isNeeded)
    const missing = needed.filter(({ key }) => mapping[key] === undefined).length
    return Object.keys(mapping).length - 4 * missing
  }
  return IMPORT_KINDS.toSorted((a, b) => score(b) - score(a))[0] ?? 'customers'
}

/** What is needed and has no column. */
export const missingIn = (kind: ImportKind, mapping: Mapping): Target[] =>
  TARGETS[kind].filter(({ isNeeded, key }) => isNeeded && mapping[key] === undefined)
