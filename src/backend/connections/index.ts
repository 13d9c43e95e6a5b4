export { Evaluator } from './evaluate.ts'
export { receive, replayRefused, tryMapping } from './receive.ts'
export {
  addConnection,
  changeConnection,
  connectionAt,
  findConnection,
  forgetBodies,
  lastBodies,
  listConnections,
  newAddress,
  removeConnection,
  type Connection,
} from './store.ts'
export { pullDue } from './pull.ts'
