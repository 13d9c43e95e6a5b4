import { readFile } from 'node:fs/promises'
import { sql } from 'drizzle-orm'
import { storeImage } from '../backend/files/index.ts'
import { recordsOf, type Database } from '../backend/platform/db.ts'
import { ownFile } from '../core/messages/ownFiles.ts'
import { PRODUCTS, type Product } from './catalogue.ts'

/** The same from the source and from what is built of it. */
const FOLDER = new URL('../../src/demo/pictures/', import.meta.url)

/** What a product is drawn as: the first whose words stand in its title, else what its category is. */
const DRAWN: readonly (readonly [words: RegExp, picture: string])[] = [
  [/frames|excluder|board|floor|stand/i, 'frames'],
  [/foundation|candle/i, 'wax'],
  [/gloves|gaiters/i, 'gloves'],
  [/veil|hood/i, 'veil'],
  [/feeder|tank|kit|strips|counting|reducer/i, 'feeder'],
  [/lids|labels/i, 'lids'],
  [/extractor|strainer/i, 'extractor'],
  [/fork|cutter|grip|rest|tool|refractometer|marking/i, 'tool'],
  [/brush/i, 'brush'],
]
const OF_CATEGORY: Readonly<Record<string, string>> = {
  'Hives & frames': 'hive',
  'Protective wear': 'suit',
  'Feed & health': 'feed',
  'Harvest & jars': 'jar',
  'Tools & smokers': 'smoker',
  Classes: 'class',
  Books: 'book',
}

const pictureOf = ({ title, category }: Product): string => {
  const own = OF_CATEGORY[category] ?? 'hive'
  if (category === 'Books' || category === 'Classes') return own
  return DRAWN.find(([words]) => words.test(title))?.[1] ?? own
}

/** Puts one of the demo's pictures among the shop's. Returns how it is named in a document. */
async function storePicture(db: Database, shopId: string, name: string): Promise<string> {
  const bytes = await readFile(new URL(`${name}.png`, FOLDER))
  const { id } = await storeImage(db, shopId, { name: `${name}.png`, bytes })
  return ownFile(id)
}

/** The shop's products, as its website shows them. They must be there already. */
export async function addProductPictures(db: Database, shopId: string): Promise<void> {
  const names = [...new Set(PRODUCTS.map(pictureOf))]
  const stored = new Map<string, string>()
  for (const name of names) stored.set(name, await storePicture(db, shopId, name))
  const looks = PRODUCTS.map((product) => ({
    id: product.id,
    url: `https://combwright.example/things/${product.id}`,
    imageUrl: stored.get(pictureOf(product)),
  }))
  await db.execute(sql`
    update products as p set url = l.url, image_url = l."imageUrl"
    from jsonb_to_recordset(${recordsOf(looks)}) as l(id text, url text, "imageUrl" text)
    where p.shop_id = ${shopId} and p.id = l.id`)
}
