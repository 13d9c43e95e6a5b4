export { Recommender } from './recommend.ts'
export type { Product } from './shopStats.ts'
