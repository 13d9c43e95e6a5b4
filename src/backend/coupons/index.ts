export { codesSince, couponReport, findCoupon, whoWaits } from './issued.ts'
