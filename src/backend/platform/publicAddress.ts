import ipaddr from 'ipaddr.js'

/**
 * True for an address on the public internet. Everything the special-purpose registries list is not
 * (RFC 6890 and its successors): loopback, private, link-local with the metadata service, shared,
 * documentation, tunnels. An IPv4 address inside an IPv6 one is judged by itself.
 */
export function isPublicAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  if (parsed.kind() === 'ipv4') return parsed.range() === 'unicast'
  // Of IPv6 only 2000::/3 is handed out for the public internet.
  return parsed.range() === 'unicast' && (parsed.toByteArray()[0] ?? 0) >> 5 === 1
}
