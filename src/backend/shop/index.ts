export { createShop, newShop } from './createShop.ts'
export { rememberErased } from './erased.ts'
export { readClock, requestClockMove, setClock, stopClock } from './clock.ts'
export { findPeople, toldOf } from './told.ts'
export { listHoldouts, saveHoldout } from './holdouts.ts'
export type { KeptHoldout } from './tables.ts'
export {
  findShop,
  saveBrand,
  saveNotice,
  saveShopFacts,
  saveShopRules,
  refuseMoving,
  shopIds,
  type Shop,
  type ShopFactsOf,
} from './shops.ts'
export { beginningToken, createFirstShop, firstSteps, isEmpty } from './beginning.ts'
export { lockCustomers } from './lockCustomers.ts'
export { noteDeadAddresses } from './deadAddresses.ts'
export { namesOfCustomers, numbersOfOrders } from './names.ts'
export { productTitles } from './productTitles.ts'
export { readPhone } from './phone.ts'
export {
  importPast,
  ingestEvents,
  MAX_BATCH,
  readPast,
  takePast,
  type PastReading,
  type Receipt,
} from './ingest.ts'
export {
  actOnOrder,
  counterCustomers,
  counterOrders,
  counterProducts,
  placeOrder,
} from './counter.ts'
export { actOnSubscription, counterSubscriptions, happen, lastEvents } from './counterEvents.ts'
export { projectEvents } from './project/index.ts'
export { forgetRefused, keepRefused, refusedOf, takenEvents } from './arrivals.ts'
