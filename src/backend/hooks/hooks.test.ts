import { expect, test } from 'vitest'
import { hookCaller } from './callHook.ts'
import { isPublicAddress } from '../platform/publicAddress.ts'

// RFC 6890 and its successors: 1918, 6598, 3927, 5737, 7526, 2544, 4193, 3849, 9637, 6052, 8215, 6666.
test.each([
  '0.0.0.0', '10.0.0.1', '172.16.0.1', '172.31.255.255', '192.168.1.1', '100.64.0.1', '127.0.0.1',
  '169.254.169.254', '192.0.0.1', '192.0.2.1', '198.51.100.7', '203.0.113.9', '192.88.99.1',
  '198.18.0.1', '198.19.255.255', '224.0.0.1', '240.0.0.1', '255.255.255.255', '::', '::1',
  '::ffff:127.0.0.1', '::ffff:10.0.0.1', '64:ff9b::a00:1', '64:ff9b:1::1', '100::1', '2001::1',
  '2001:db8::1', '3fff::1', '2002:a00:1::', '5f00::1', 'fc00::1', 'fd12::1', 'fe80::1', 'fec0::1',
  'ff02::1', 'nonsense',
])('%s is not public', (address) => {
  expect(isPublicAddress(address)).toBe(false)
}) // prettier-ignore

test.each([
  '9.255.255.255', '11.0.0.0', '100.63.255.255', '100.128.0.0', '126.255.255.255', '128.0.0.0',
  '169.253.255.255', '169.255.0.0', '172.15.255.255', '172.32.0.1', '192.0.1.1', '192.167.255.255',
  '192.169.0.0', '198.17.255.255', '198.20.0.0', '223.255.255.255', '2001:db9::', '3fff:1000::1',
])('%s, just outside, is', (address) => {
  expect(isPublicAddress(address)).toBe(true)
}) // prettier-ignore

const SECRET = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw'
const call = (url: string) =>
  hookCaller({ allowPrivate: false }).call({ id: 'm1', url, body: {}, secret: SECRET })

// How the WHATWG URL parser reads these is what Node.js connects to.
test.each([
  'http://2130706433/', 'http://0x7f.1/', 'http://0177.0.0.1/', 'http://127.1/', 'http://0/',
  'http://[::ffff:127.0.0.1]/', 'http://example.com@10.0.0.1/', 'http://10.0.0.1#@example.com/',
  'http://localhost/', 'http://LOCALHOST./', 'ftp://example.com/', 'file:///etc/passwd', 'javascript:1',
  'http://169.254.169.254/latest/meta-data/',
])('%s is never called, and not tried again', async (url) => {
  expect(await call(url)).toMatchObject({ kind: 'permanent' })
}) // prettier-ignore
