export { codesSince, couponReport, findCoupon, whoWaits } from './issued.ts'
export { issueCodes, type Issue } from './issue.ts'
