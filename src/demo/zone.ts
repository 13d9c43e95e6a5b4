import { a, mx, txt, type Zone } from '../simulated/dnsServer.ts'

/** Where bounces of the demo shop's messages come back to. */
export const DEMO_RETURN_PATH = 'returns@combwright.example'

/** What the world's name servers would say of the demo shop: all is there but a policy for fakes. */
export const DEMO_ZONE: Zone = {
  ...txt('combwright.example', 'v=spf1 mx -all'),
  ...mx('combwright.example', 'mx.combwright.example'),
  ...a('mx.combwright.example', '192.0.2.25'),
}
