export { cellOf, HOME, placeShop } from './directory.ts'
export { moveShop, type Cells } from './moveShop.ts'
export { cellConfigs, openCells } from './open.ts'
