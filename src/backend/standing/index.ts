export { openDns } from './dns.ts'
export { publicKeyOf } from './lookUp.ts'
export { shopStanding } from './shopStanding.ts'
