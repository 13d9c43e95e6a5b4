export { codesSince, findCoupon } from './issued.ts'
export { issueCodes, type Issue } from './issue.ts'
export { couponReport, whoWaits } from './report.ts'
