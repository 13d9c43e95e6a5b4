export { codesSince, findCoupon } from './issued.ts'
export { issueCodes, type Issue } from './issue.ts'
export { codesUsedSince, couponReport, whoWaits } from './report.ts'
