export { hashPassword, hashToken, randomToken } from './secrets.ts'
export {
  endSessions,
  findSession,
  listSessions,
  rotateSession,
  signIn,
  signOut,
  strengthen,
  switchShop,
  type SignedIn,
} from './sessions.ts'
export {
  askForPasskey,
  beginPasskey,
  keepPasskey,
  listPasskeys,
  removePasskey,
  signInByPasskey,
} from './passkeys.ts'
export { auditPage, everyAudit, noteAudit } from './audit.ts'
export { dropSecondFactor, newSecret, turnOff, turnOn } from './secondFactor.ts'
export { choosePassword, makeLink, makeResetLink, readLink } from './links.ts'
export {
  addUser,
  changePassword,
  changeRole,
  keepUser,
  listUsers,
  removeUser,
  setPassword,
  shopsOf,
  type User,
} from './users.ts'
export {
  createApiKey,
  keepApiKey,
  listApiKeys,
  revokeApiKey,
  holderOfKey,
  type KeyHolder,
} from './apiKeys.ts'
export { beginRequest, endRequest, forgetAnswers, type KeyedRequest } from './idempotency.ts'
