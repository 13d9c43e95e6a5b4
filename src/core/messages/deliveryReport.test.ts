import { describe, expect, test } from 'vitest'
import { readDeliveryStatus, readFeedbackReport } from './deliveryReport.ts'

const status = (fields: string) =>
  readDeliveryStatus(
    `Reporting-MTA: dns; mx.example.org\r\n\r\n${fields.replaceAll('\n', '\r\n')}\r\n`,
  )

test('the example of RFC 3464 appendix E: given up, but the address is not dead', () => {
  expect(
    status(
      'Original-Recipient: rfc822;louisl@larry.slip.umd.edu\nFinal-Recipient: rfc822;louisl@larry.slip.umd.edu\nAction: failed\nStatus: 4.0.0\nDiagnostic-Code: smtp; 426 connection timed out\nLast-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400',
    ),
  ).toEqual({
    kind: 'bounced',
    status: '4.0.0',
    deadAddress: false,
    detail: 'smtp; 426 connection timed out',
  })
})

describe('status codes (RFC 3463 sections 2 and 3)', () => {
  test.each([
    ['5.1.1', true], ['5.1.2', true], ['5.1.3', true], ['5.2.1', false], ['5.2.2', false],
    ['5.3.4', false], ['5.7.1', false], ['5.9.9', false], ['4.1.1', false],
  ])('%s: dead address %s', (code, deadAddress) => {
    expect(status(`Action: failed\nStatus: ${code} (some words)`)).toMatchObject({ deadAddress })
  }) // prettier-ignore
  test.each(['3.0.0', '5.1', 'none'])('%s is none', (code) => {
    expect(status(`Action: failed\nStatus: ${code}`)).toBeNull()
  })
})

test('late is not lost; folded lines are one field; other actions are no bounce', () => {
  expect(status('Action: delayed\nStatus: 4.4.1')).toEqual({ kind: 'delayed', status: '4.4.1' })
  expect(
    status('Action: failed\nStatus: 5.1.1\nDiagnostic-Code: smtp; 550\n 5.1.1 unknown'),
  ).toMatchObject({
    detail: 'smtp; 550 5.1.1 unknown',
  })
  expect(status('Action: delivered\nStatus: 2.0.0')).toBeNull()
})

test('complaints (RFC 5965): abuse counts, other kinds of feedback do not', () => {
  expect(readFeedbackReport('Feedback-Type: abuse\r\nVersion: 1\r\n')).toEqual({
    kind: 'complained',
  })
  expect(readFeedbackReport('Feedback-Type: not-spam\r\nVersion: 1\r\n')).toBeNull()
})
