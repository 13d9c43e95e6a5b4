import { createPrivateKey } from 'node:crypto'
import { accessSync, constants, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { readDkim } from '../../backend/messages/dkim.ts'
import type { Config } from '../../backend/platform/config.ts'
import { toError } from '../../backend/platform/errors.ts'
import { ok, stops, warns, type Finding } from './findings.ts'

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1', '[::1]'])
const isOwn = (host: string): boolean => LOOPBACK.has(host)

/** What the settings say by themselves. */
export function checkSettings(config: Config): Finding[] {
  return [...checkPublicUrl(config), ...checkSecrets(config), ...checkDkim(config), ...checkMachine()] // prettier-ignore
}

function checkPublicUrl({ PUBLIC_URL, HOST, TRUST_PROXY, HOOKS_ALLOW_PRIVATE }: Config): Finding[] {
  if (PUBLIC_URL === undefined) {
    return isOwn(HOST)
      ? [warns('public-url-missing', 'PUBLIC_URL is not set: links in messages lead to this machine only.', 'Set PUBLIC_URL to the address at which people reach Yomble.')]
      : [stops('public-url-missing', `The server listens at ${HOST}, and PUBLIC_URL is not set: links in messages would lead nowhere.`, 'Set PUBLIC_URL to the address at which people reach Yomble.')]
  }
  const { protocol, hostname } = new URL(PUBLIC_URL)
  const findings: Finding[] = []
  const isSecure = protocol === 'https:'
  if (!isSecure && !isOwn(hostname)) {
    findings.push(warns('public-url-insecure', `${PUBLIC_URL} is not https: passwords and cookies can be read on their way.`, 'Put a proxy with a certificate in front, and set PUBLIC_URL to its https address.'))
  }
  if (isSecure && TRUST_PROXY === false) {
    findings.push(warns('proxy-not-trusted', 'People come by https, so there is a proxy in front, and TRUST_PROXY is not set: all seem to come from one address, and share its limits.', 'Set TRUST_PROXY to the number of proxies, or to their addresses.'))
  }
  if (TRUST_PROXY === true && !isOwn(HOST)) {
    findings.push(warns('proxy-trusts-all', 'TRUST_PROXY believes anybody, and the server can be reached past the proxy: who wants to can seem to come from anywhere.', 'Set TRUST_PROXY to the proxies’ addresses, or HOST to 127.0.0.1.'))
  }
  if (HOOKS_ALLOW_PRIVATE && !isOwn(hostname)) {
    findings.push(warns('private-hooks', 'HOOKS_ALLOW_PRIVATE lets marketers call addresses within your own network.', 'Leave it out.'))
  }
  return findings.length > 0 ? findings : [ok('public-url', `People come by ${PUBLIC_URL}.`)]
} // prettier-ignore

function checkSecrets({ LINK_SECRET }: Config): Finding[] {
  return new Set(LINK_SECRET).size < 10
    ? [stops('link-secret-weak', 'LINK_SECRET can be guessed: whoever does can make links that unsubscribe anybody.', 'Make one: openssl rand -hex 32')]
    : [ok('link-secret', 'Links are signed.')]
} // prettier-ignore

function checkDkim(config: Config): Finding[] {
  const file = config.DKIM_KEY_FILE
  if (file === undefined) {
    return [warns('dkim-missing', 'Mail is not signed: large providers refuse it, or file it as spam, unless your mail server signs it.', 'Set DKIM_DOMAIN, DKIM_SELECTOR and DKIM_KEY_FILE, or have the mail server sign.')]
  }
  try {
    const dkim = readDkim(config)
    const bits = createPrivateKey(dkim?.privateKey ?? '').asymmetricKeyDetails?.modulusLength ?? 0
    if (bits < 1024) return [stops('dkim-key-short', `The key of DKIM_KEY_FILE has ${bits} bits: receivers take no notice of it (RFC 8301).`, 'Make one of 2048 bits: openssl genrsa -out dkim.pem 2048')]
    if (bits < 2048) return [warns('dkim-key-short', `The key of DKIM_KEY_FILE has ${bits} bits; 2048 are asked for (RFC 8301).`, 'Make another: openssl genrsa -out dkim.pem 2048')]
  } catch (error) {
    return [stops('dkim-key', toError(error).message, 'Make one: openssl genrsa -out dkim.pem 2048, and let the user that Yomble runs as read it.')]
  }
  if ((statSync(file).mode & 0o004) !== 0) {
    return [warns('dkim-key-open', `Everybody on this machine can read ${file}, and sign mail in your name.`, `chmod 640 ${file}`)]
  }
  return [ok('dkim', 'Mail is signed.')]
} // prettier-ignore

function checkMachine(): Finding[] {
  const findings: Finding[] = []
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19)) {
    findings.push(stops('node-old', `This is Node ${process.versions.node}; 20.19 is the least.`, 'Install a newer Node.')) // prettier-ignore
  }
  try {
    accessSync(tmpdir(), constants.W_OK)
  } catch {
    findings.push(stops('temp-folder', `Nothing can be written to ${tmpdir()}.`, 'Let the user that Yomble runs as write there, or set TMPDIR.')) // prettier-ignore
  }
  return findings
}

/** Whether the server can listen where it is told to. */
export function checkPort({ HOST, PORT }: Config): Promise<Finding[]> {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', (error: NodeJS.ErrnoException) => {
      const isTaken = error.code === 'EADDRINUSE'
      resolve([
        isTaken
          ? warns('port-taken', `Something listens at ${HOST}:${PORT} already.`, 'That is as it should be if it is Yomble; else set PORT.')
          : stops('port', `The server cannot listen at ${HOST}:${PORT}: ${error.message}.`, 'Set HOST to an address of this machine, and PORT to one above 1024.'),
      ])
    })
    probe.listen(PORT, HOST, () => probe.close(() => resolve([ok('port', `The server can listen at ${HOST}:${PORT}.`)])))
  })
} // prettier-ignore
