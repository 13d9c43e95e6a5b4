export { codesSince, findCoupon } from './issued.ts'
export { issueCodes, renameCoupons, type Issue } from './issue.ts'
export { codesUsedSince, couponReport, whoWaits } from './report.ts'
