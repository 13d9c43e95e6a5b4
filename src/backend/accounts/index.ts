export { hashPassword, hashToken, randomToken } from './secrets.ts'
export { findSession, rotateSession, signIn, signOut, type SignedIn } from './sessions.ts'
export {
  createApiKey,
  keepApiKey,
  listApiKeys,
  revokeApiKey,
  holderOfKey,
  type KeyHolder,
} from './apiKeys.ts'
export { beginRequest, endRequest, forgetAnswers, type KeyedRequest } from './idempotency.ts'
