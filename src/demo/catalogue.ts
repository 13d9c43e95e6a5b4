/** A product of the demo shop. Prices are in euro cents. */
export interface Product {
  id: string
  title: string
  category: string
  priceMinor: number
  /** How often it is bought, compared with the others. */
  popularity: number
  /** When a class begins. */
  startsAt: string | null
}

/** How much each month, January first, is a category's season. */
const SEASONS: Readonly<Record<string, readonly number[]>> = {
  'Hives & frames': [2, 4, 8, 10, 8, 4, 2, 1, 1, 1, 1, 2],
  'Protective wear': [2, 3, 6, 9, 8, 5, 3, 2, 1, 1, 2, 3],
  'Feed & health': [5, 8, 5, 2, 1, 1, 2, 7, 10, 8, 4, 3],
  'Harvest & jars': [1, 1, 1, 2, 5, 9, 10, 9, 4, 2, 2, 3],
  'Tools & smokers': [2, 3, 6, 8, 7, 5, 4, 3, 2, 2, 2, 4],
  Classes: [5, 6, 7, 6, 4, 2, 1, 1, 2, 2, 3, 4],
  Books: [5, 4, 3, 3, 2, 2, 2, 2, 2, 3, 6, 9],
}

const LISTS: Readonly<Record<string, readonly (readonly [title: string, euros: number, popularity: number])[]>> = {
  'Hives & frames': [
    ['National hive, flat pack', 189, 4], ['National hive, assembled', 249, 3], ['Long hive, cedar', 329, 1],
    ['Nucleus box, five frames', 64, 4], ['Brood frames, pack of ten', 18.5, 8], ['Super frames, pack of ten', 16.5, 8],
    ['Wax foundation, ten sheets', 14.9, 9], ['Queen excluder, wire', 21, 5], ['Mesh floor', 34, 3],
    ['Hive stand, oak', 48, 3], ['Crown board with escape', 26, 3],
  ],
  'Protective wear': [
    ['Ventilated suit', 139, 4], ['Cotton suit', 89, 5], ['Half jacket with veil', 59, 5],
    ['Goatskin gloves', 24, 8], ['Round veil', 19.5, 5], ['Children’s suit', 54, 2],
    ['Ankle gaiters', 12.5, 3], ['Fencing hood', 29, 2],
  ],
  'Feed & health': [
    ['Winter fondant, 2.5 kg', 9.8, 10], ['Autumn syrup, 12.5 kg', 27.5, 9], ['Pollen patties, three', 11.9, 6],
    ['Rapid feeder', 17, 4], ['Frame feeder', 14, 4], ['Varroa counting board', 8.5, 5],
    ['Oxalic acid kit', 32, 5], ['Thymol strips', 19.9, 5], ['Entrance reducer', 4.5, 5],
  ],
  'Harvest & jars': [
    ['Honey jar 340 g, box of 48', 38, 9], ['Honey jar 120 g, box of 72', 42, 5], ['Gold lids, bag of 100', 13.5, 8],
    ['Uncapping fork', 9.5, 5], ['Extractor, four frames', 289, 1], ['Double strainer', 31, 4],
    ['Settling tank, 50 kg', 96, 2], ['Comb cutter', 14, 3], ['Tamper labels, roll of 500', 16, 5], ['Refractometer', 29, 3],
  ],
  'Tools & smokers': [
    ['Smoker, stainless', 39, 6], ['Smoker, small', 29, 4], ['Hive tool, J pattern', 12, 8],
    ['Bee brush', 7.5, 7], ['Frame grip', 16, 4], ['Smoker pellets, 2 kg', 11, 7],
    ['Queen marking kit', 15, 4], ['Frame rest', 18, 3],
  ],
  Classes: [
    ['First inspection day, 9 May 2026', 75, 4], ['Queen rearing weekend, 13 June 2026', 190, 2],
    ['Swarm evening, 22 May 2026', 35, 3], ['Honey judging, 5 September 2026', 45, 1],
  ],
  Books: [
    ['The First Year', 19, 6], ['A Calendar for Hives', 16, 4], ['Plants Bees Need', 24, 4],
    ['Reading the Frame', 21, 3], ['Wax and Candle', 18, 2], ['The Quiet Apiary', 17, 2],
    ['Record cards, pack of 50', 6.5, 5],
  ],
} // prettier-ignore

/** In Lisbon, in summer time. */
const CLASS_STARTS: Readonly<Record<string, string>> = {
  'First inspection day, 9 May 2026': '2026-05-09T10:00:00+01:00',
  'Queen rearing weekend, 13 June 2026': '2026-06-13T09:30:00+01:00',
  'Swarm evening, 22 May 2026': '2026-05-22T18:00:00+01:00',
  'Honey judging, 5 September 2026': '2026-09-05T14:00:00+01:00',
}

export const PRODUCTS: readonly Product[] = Object.entries(LISTS).flatMap(
  ([category, list], group) =>
    list.map(([title, euros, popularity], index) => ({
      id: `p-${group + 1}${String(index + 1).padStart(2, '0')}`,
      title,
      category,
      priceMinor: Math.round(euros * 100),
      popularity,
      startsAt: CLASS_STARTS[title] ?? null,
    })),
)

/** How likely a product is bought in a month (1 is January). */
export function demand(product: Product, month: number): number {
  return product.popularity * (SEASONS[product.category]?.[month - 1] ?? 1)
}

/** How many orders a month has, compared with the others. */
export const MONTH_WEIGHT = [
  0.8, 0.95, 1.2, 1.35, 1.2, 1.05, 1.0, 0.95, 1.0, 0.85, 0.75, 0.9,
] as const
