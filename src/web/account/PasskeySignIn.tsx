import { browserSupportsWebAuthn, startAuthentication } from '@simplewebauthn/browser'
import { useMutation } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { requestOptions } from '../../contract/passkeys.ts'
import { send, sendJson } from '../ui/data/api.ts'
import { passkeyWords, type RequestOptions } from './passkeyWords.ts'
import { Refusal } from './Refusal.tsx'

/** The way in without a password, where the browser knows it. */
export function PasskeySignIn({ onDone }: { onDone: () => Promise<void> }): ReactNode {
  const signIn = useMutation({
    mutationFn: async () => {
      const optionsJSON = (await sendJson('POST', '/api/session/passkey/options', requestOptions, {})) as RequestOptions // prettier-ignore
      const signed = await startAuthentication({ optionsJSON }).catch((error: unknown) => {
        throw new Error(`${passkeyWords(error)} With no passkey yet, sign in with your password and add one under “Your account”.`) // prettier-ignore
      })
      await send('POST', '/api/session/passkey', signed)
    },
    onSuccess: onDone,
  })
  if (!browserSupportsWebAuthn()) return null
  return (
    <>
      <button
        type="button"
        className="btn mt-2 w-full"
        disabled={signIn.isPending}
        onClick={() => signIn.mutate()}
      >
        {signIn.isPending ? 'Waiting for the device…' : 'Use a passkey instead'}
      </button>
      <Refusal error={signIn.error} />
    </>
  )
}
