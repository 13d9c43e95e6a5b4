import type { KeyScope } from '../../contract/scopes.ts'

/** Who may call a route: keys with a scope; `person`, only somebody who is signed in; `open`, anybody. */
export type Access = KeyScope | 'person' | 'open'

export interface Operation {
  access: Access
  summary: string
}

type Table = Readonly<Record<string, readonly [Access, string]>>

const WATCH: Table = {
  'GET /livez': ['open', 'Whether the server lives.'],
  'GET /readyz': ['open', 'Whether it can do its work, and what that rests on.'],
  'GET /metrics': [
    'open',
    'Its figures, for Prometheus; with a token, or from the machine itself.',
  ],
}

const INCOMING: Table = {
  'POST /v1/events': [
    'events',
    'Sends one event or a batch of up to 1,000 (CloudEvents 1.0). Sent again, an event is known by its source and id.',
  ],
  'GET /v1/work': [
    'events',
    'Says whether all that an event and those before it bring has been done.',
  ],
  'POST /v1/reports': [
    'events',
    'Hands on a bounce or complaint that came back by mail (RFC 3464, RFC 5965).',
  ],
  'POST /v1/texts/incoming': [
    'events',
    'Hands on a text message that a customer sent, such as STOP.',
  ],
  'POST /v1/texts/reports': ['events', 'Hands on what became of a text message.'],
  'GET /v1/notices': ['events', 'Which of the shop’s built-in notices workflows have taken over.'],
  'GET /v1/coupons': [
    'events',
    'Coupon codes that were issued since a moment, for the shop to honour.',
  ],
  'POST /v1/in/{token}': [
    'open',
    'What another system sends in its own language, at the secret address of a connection.',
  ],
}

const CUSTOMERS: Table = {
  'GET /v1/calendar/{token}': [
    'open',
    'What is to come, as a calendar (RFC 5545), at a secret address.',
  ],
  'GET /u/{token}': ['open', 'The page on which a customer chooses what they get.'],
  'POST /u/{token}': ['open', 'Unsubscribes a customer with one click (RFC 8058).'],
  'POST /u/{token}/choices': ['open', 'Keeps what a customer has chosen to get.'],
  'GET /confirm-sender/{token}': [
    'open',
    'The page on which somebody confirms that a sender’s address is theirs.',
  ],
  'POST /confirm-sender/{token}': ['open', 'Confirms a sender’s address.'],
  'GET /files/{id}': ['open', 'A picture of a message.'],
  'GET /l/{token}': ['open', 'Leads on from a link in a message.'],
  'GET /s/{token}': ['open', 'Leads on from a short link in a text message.'],
  'GET /o/{token}': ['open', 'The picture that tells that a message was opened.'],
}

const WORKFLOWS: Table = {
  'GET /api/workflows': ['read', 'All workflows with how they stand and their figures.'],
  'POST /api/workflows': ['workflows', 'Begins a workflow as a draft.'],
  'GET /api/workflow-names': ['read', 'What the workflows are called.'],
  'GET /api/live-workflows': ['read', 'The documents of the workflows that are live.'],
  'GET /api/workflows/{id}': ['read', 'A workflow: its draft, its live version, how it stands.'],
  'DELETE /api/workflows/{id}': ['workflows', 'Deletes a workflow that never went live.'],
  'PUT /api/workflows/{id}/draft': [
    'workflows',
    'Saves the draft, if it is still at the revision named.',
  ],
  'GET /api/workflows/{id}/versions': ['read', 'The versions that went live.'],
  'GET /api/workflows/{id}/versions/{version}': ['read', 'The document of one version.'],
  'GET /api/workflows/{id}/before-live': [
    'read',
    'What the go-live check finds, beside what runs in other workflows.',
  ],
  'POST /api/workflows/{id}/go-live': ['workflows', 'Puts the draft live.'],
  'POST /api/workflows/{id}/pause': ['workflows', 'Pauses a workflow: nothing of it happens.'],
  'GET /api/workflows/{id}/overdue': ['read', 'What became due while it was paused.'],
  'POST /api/workflows/{id}/resume': ['workflows', 'Resumes a paused workflow.'],
  'POST /api/workflows/{id}/retire': [
    'workflows',
    'Retires a workflow, with or without those who are in it.',
  ],
  'GET /api/workflows/{id}/bulk-changes': [
    'read',
    'What is being done to everybody in a workflow, and how far it has come.',
  ],
  'POST /api/workflows/{id}/move-people': [
    'workflows',
    'Moves those in earlier versions to the live one.',
  ],
  'GET /api/workflows/{id}/passed-over': ['read', 'Which dates of today are past already.'],
  'GET /api/workflows/{id}/qualifying': ['people', 'Who qualifies by what happened before.'],
  'POST /api/workflows/{id}/let-in': [
    'workflows',
    'Lets those in who qualify already, so many an hour.',
  ],
  'GET /api/workflows/{id}/intakes': ['read', 'How far letting people in has come.'],
  'POST /api/workflows/{id}/intakes/stop': ['workflows', 'Stops letting people in.'],
  'POST /api/workflows/{id}/put-in': [
    'workflows',
    'Puts everybody in a segment in, so many an hour.',
  ],
  'POST /api/workflows/{id}/enter': [
    'workflows',
    'Puts people in by hand; filter, entry rule and exclusions hold.',
  ],
  'POST /api/workflows/{id}/visit': [
    'person',
    'Notes that somebody looks at a draft, and who else does.',
  ],
  'POST /api/workflows/{id}/visit/end': ['person', 'Notes that somebody has left a draft.'],
  'POST /api/workflows/replay': ['people', 'Runs a draft over the past.'],
  'POST /api/conditions/count': ['read', 'For how many of the past conditions hold.'],
  'POST /api/conditions/combinations': ['read', 'How many would have taken which paths.'],
  'POST /api/experiments/traffic': ['read', 'How many would enter a test in a week.'],
}

const ARCHIVES: Table = {
  'GET /api/archive': [
    'read',
    'Workflows as one file with all they need: all of them with brand and designs, or some.',
  ],
  'POST /api/archive': [
    'workflows',
    'Brings such a file in: each workflow becomes a draft, and what does not fit is said.',
  ],
}

const RESULTS: Table = {
  'GET /api/workflows/{id}/numbers': ['read', 'How many are at each stop now.'],
  'GET /api/workflows/{id}/results': [
    'read',
    'What came of a workflow: sent, opened, clicked, ordered, by message.',
  ],
  'GET /api/workflows/{id}/results/people': ['people', 'The people behind one figure.'],
  'GET /api/workflows/{id}/results/message': [
    'read',
    'What came of one message: links, days, reasons.',
  ],
  'GET /api/workflows/{id}/results.csv': ['read', 'The results as CSV.'],
  'GET /api/workflows/{id}/experiments': ['read', 'How its tests stand.'],
  'POST /api/workflows/{id}/experiments/{step}/decision': ['workflows', 'Decides a test.'],
  'GET /api/calendar': ['read', 'The secret address of the calendar of what is to come.'],
  'GET /api/overview/sending': ['read', 'What was sent and earned of late, by day.'],
  'GET /api/overview/health': ['read', 'Bounces, complaints and unsubscribes of late.'],
  'GET /api/overview/pressure': ['read', 'How many messages people get.'],
  'GET /api/overview/cohorts': ['read', 'Who bought again, by the month of the first order.'],
  'GET /api/overview/holdout': ['read', 'What holding workflows back from some shows.'],
  'GET /api/reorders': ['read', 'When products are bought again.'],
  'GET /api/coupons': ['read', 'Coupons given out and redeemed.'],
}

const MESSAGES: Table = {
  'POST /api/messages/samples': ['people', 'Whom a message can be shown for.'],
  'POST /api/messages/preview': ['people', 'A message as somebody would get it.'],
  'POST /api/messages/eml': ['people', 'The same as a mail file (RFC 5322).'],
  'POST /api/messages/test': ['person', 'Sends a message as a test to whoever asks.'],
  'POST /api/messages/{id}/repair': [
    'workflows',
    'Sends again, or drops, a message that went wrong.',
  ],
  'GET /api/kept-blocks': ['read', 'Blocks that are kept for several messages.'],
  'POST /api/kept-blocks': ['workflows', 'Keeps blocks.'],
  'PUT /api/kept-blocks/{id}': ['workflows', 'Changes kept blocks wherever they are used.'],
  'GET /api/designs': ['read', 'Kept designs, in their newest revisions.'],
  'POST /api/designs': ['workflows', 'Keeps a design.'],
  'GET /api/designs/{id}/revisions/{revision}': ['read', 'One revision of a design.'],
  'PUT /api/designs/{id}': ['workflows', 'Keeps a new revision of a design.'],
  'DELETE /api/designs/{id}': ['workflows', 'Forgets a design.'],
  'PUT /api/designs/{id}/name': ['workflows', 'Renames a design.'],
  'GET /api/files': ['read', 'Pictures and files to attach, with where each is used.'],
  'POST /api/files': ['workflows', 'Keeps a picture.'],
  'PUT /api/files/{id}': [
    'workflows',
    'Puts another picture in the place of one, wherever it is used.',
  ],
  'DELETE /api/files/{id}': ['workflows', 'Forgets a picture that nothing uses.'],
  'POST /api/documents': ['workflows', 'Keeps a file to attach.'],
  'GET /api/documents/{id}': ['read', 'A file to attach.'],
  'GET /api/mails': ['people', 'Mail and text messages that arrived in the simulated mailbox.'],
  'GET /api/mails/{id}': ['people', 'One of them.'],
  'GET /api/mails/{id}/source': ['people', 'The same as it came over the wire.'],
}

const REHEARSAL: Table = {
  'POST /api/rehearsal/message': ['people', 'A message of a rehearsal.'],
  'POST /api/rehearsal/series': ['people', 'All messages of a rehearsal.'],
  'GET /api/rehearsal/people': ['people', 'Whom a rehearsal can be begun with.'],
  'POST /api/rehearsal/likenesses': ['people', 'What is known of somebody, for a rehearsal.'],
}

const PEOPLE: Table = {
  'POST /api/people/search': [
    'people',
    'People by name, address, phone, order number and condition, page by page.',
  ],
  'POST /api/people/count': ['people', 'How many those are.'],
  'GET /api/people/{id}': ['people', 'What is known of somebody, and which segments they are in.'],
  'GET /api/people/{id}/timeline': ['people', 'What happened to them, the newest first.'],
  'POST /api/people/{id}/acts': [
    'people',
    'Does something to somebody: quiet, consent, lists, tags, addresses.',
  ],
  'GET /api/people/{id}/data': ['people', 'All that is known of somebody, as JSON.'],
  'GET /api/people/{id}/data-page': ['people', 'The same as a page.'],
  'POST /api/people/{id}/erase': ['people', 'Erases somebody. It cannot be undone.'],
  'GET /api/reachable': [
    'people',
    'Whether marketing may be sent to an address or number, and why not.',
  ],
  'POST /api/runs/{id}/acts': [
    'people',
    'Takes somebody out of a workflow, or ends the wait they are in.',
  ],
  'POST /api/runs/{id}/repair': ['workflows', 'Takes up a run that is stuck.'],
  'GET /api/runs/{id}': ['people', 'One run with all its decisions.'],
  'GET /api/runs/{id}/coming': ['people', 'What is still to come of a run if nothing changes.'],
  'GET /api/ledger': [
    'people',
    'Decisions with their reasons, the newest first; `before` is the id of the last one of a page.',
  ],
  'GET /api/segments': ['read', 'Segments with their conditions.'],
  'POST /api/segments': ['people', 'Keeps a condition under a name.'],
  'PUT /api/segments/{id}': ['people', 'Changes a segment.'],
  'DELETE /api/segments/{id}': ['people', 'Forgets a segment.'],
  'GET /api/labels': ['read', 'Lists or tags, with how many have them.'],
  'POST /api/labels': ['people', 'Puts many on a list or takes them off, or the same with a tag.'],
  'GET /api/people-file': [
    'people',
    'People as a file: all, or those of a search, a condition or a segment.',
  ],
  'GET /api/exports/{kind}': ['people', 'Everything of one kind as a file.'],
  'GET /api/imports': ['people', 'Files that were brought in.'],
  'POST /api/imports': [
    'people',
    'Uploads a file of customers, orders or the like (CSV or JSON Lines, up to 1 GB).',
  ],
  'GET /api/imports/{id}': ['people', 'How a file is read, and how far it has come.'],
  'PUT /api/imports/{id}/reading': [
    'people',
    'Says what its columns tell and how its cells are written.',
  ],
  'POST /api/imports/{id}/try': ['people', 'Tries how it would be to bring it in. Nothing stays.'],
  'POST /api/imports/{id}/begin': ['people', 'Brings it in, in the background.'],
  'POST /api/imports/{id}/undo': ['people', 'Undoes it, for a day.'],
  'GET /api/imports/{id}/refused': ['people', 'Its refused rows as a file to mend.'],
}

const SHOP: Table = {
  'GET /api/attention': ['read', 'What needs a person: messages that failed, runs that are stuck.'],
  'GET /api/shop-rules': ['read', 'The rules of the shop: gap, caps, quiet hours, holdout.'],
  'PUT /api/shop-rules': ['settings', 'Changes the rules of the shop.'],
  'GET /api/retention': ['read', 'How long each kind of thing is kept.'],
  'PUT /api/retention': ['settings', 'Changes how long things are kept.'],
  'GET /api/brand': ['read', 'What designed messages have in common.'],
  'PUT /api/brand': ['settings', 'Changes it.'],
  'GET /api/notices': ['read', 'The shop’s built-in notices, and who sends them.'],
  'PUT /api/notices/{key}': ['settings', 'Hands a built-in notice to a workflow, or back.'],
  'POST /api/workflows/{id}/ask-live': [
    'person',
    'Asks that a draft go live, where that takes two; those who may are told by mail.',
  ],
  'GET /api/status': ['read', 'How things stand: what is not as it was, what waits, who works.'],
  'GET /api/shop': ['read', 'Name, time zone, language and own sender of the shop.'],
  'PUT /api/shop': ['person', 'Changes them. The sender has to be one that was confirmed.'],
  'GET /api/senders/standing': [
    'read',
    'What receivers find when they look up the domains of senders: SPF, DKIM, DMARC and who takes what comes back.',
  ],
  'GET /api/addresses': ['read', 'Senders and groups of staff.'],
  'POST /api/senders': ['settings', 'Adds a sender, who has to confirm it.'],
  'DELETE /api/senders/{address}': ['settings', 'Removes a sender.'],
  'PUT /api/staff-groups/{key}': ['settings', 'Changes a group of staff.'],
  'DELETE /api/staff-groups/{key}': ['settings', 'Removes a group of staff.'],
  'GET /api/events': [
    'people',
    'Events that came, or those that were refused with why, the newest first.',
  ],
  'POST /api/events/try': ['read', 'Says what is wrong with an event, and takes nothing in.'],
  'POST /api/events': ['events', 'Takes one event in, as somebody sends it by hand.'],
  'GET /api/connections': ['settings', 'Connections, with how they stand.'],
  'POST /api/connections': ['settings', 'Adds a connection.'],
  'GET /api/connections/{id}': ['settings', 'A connection with the bodies that came.'],
  'PUT /api/connections/{id}': ['settings', 'Changes a connection.'],
  'DELETE /api/connections/{id}': ['settings', 'Removes a connection.'],
  'POST /api/connections/{id}/address': ['settings', 'Gives a connection another secret address.'],
  'POST /api/connections/{id}/try': ['settings', 'Tries a mapping on a body.'],
  'POST /api/connections/{id}/replay': ['settings', 'Maps once more what was refused.'],
  'GET /api/audit': ['person', 'Who changed what, the newest first.'],
  'GET /api/audit-file': ['person', 'The same as a file.'],
  'GET /api/keys': ['person', 'The API keys that work.'],
  'POST /api/keys': ['person', 'Makes an API key. It is shown this once.'],
  'DELETE /api/keys/{id}': ['person', 'Revokes an API key.'],
  'GET /api/clock': ['read', 'What time it is for the shop.'],
  'POST /api/clock': ['person', 'Moves the clock of a shop that has one.'],
  'DELETE /api/clock/target': ['person', 'Stops the clock.'],
  'POST /api/password-links': [
    'open',
    'Sends a link for a new password, if the address has an account.',
  ],
  'GET /api/password-links/{token}': ['open', 'For whom a link is by which a password is chosen.'],
  'POST /api/password-links/{token}': ['open', 'Chooses a password by a link.'],
  'PUT /api/account/password': ['person', 'Changes one’s own password.'],
  'GET /api/account/second-factor': [
    'person',
    'A secret for a device to be set up with (RFC 6238).',
  ],
  'PUT /api/account/second-factor': ['person', 'Turns the second factor on.'],
  'POST /api/account/second-factor/off': ['person', 'Turns it off.'],
  'GET /api/account/passkeys': ['person', 'One’s own passkeys.'],
  'POST /api/account/passkeys/options': [
    'person',
    'What a device is to make a passkey from (Web Authentication).',
  ],
  'POST /api/account/passkeys': ['person', 'Keeps a passkey that a device has made.'],
  'DELETE /api/account/passkeys/{id}': ['person', 'Removes a passkey of one’s own.'],
  'GET /api/account/sessions': ['person', 'Where one is signed in.'],
  'DELETE /api/account/sessions': ['person', 'Signs out everywhere else.'],
  'DELETE /api/account/sessions/{id}': ['person', 'Ends one session of one’s own.'],
  'GET /api/users': ['person', 'Who works in the shop, and what they may do.'],
  'POST /api/users': ['person', 'Makes an account and sends an invitation.'],
  'POST /api/users/{id}/invitation': ['person', 'Sends an invitation once more.'],
  'PUT /api/users/{id}/role': ['person', 'Says what somebody may do.'],
  'DELETE /api/users/{id}': ['person', 'Ends somebody’s account.'],
  'GET /api/session': ['person', 'Who is signed in.'],
  'GET /api/beginning': ['open', 'Whether there is no shop here yet.'],
  'POST /api/beginning': [
    'open',
    'Makes the first shop and its owner, for who has the link that the server prints.',
  ],
  'GET /api/first-steps': ['read', 'How far the shop has come on its way to its first message.'],
  'POST /api/session': ['open', 'Signs in.'],
  'POST /api/session/passkey/options': ['open', 'What a passkey is to sign.'],
  'POST /api/session/passkey': ['open', 'Signs in with a passkey.'],
  'DELETE /api/session': ['open', 'Signs out.'],
  'PUT /api/session/shop': ['person', 'Goes to another shop of the same person.'],
  'GET /api/openapi.json': ['open', 'This document.'],
  'GET /api/problems': ['open', 'What the codes of refusals mean.'],
  'GET /api/schema/workflow.json': ['open', 'The JSON Schema of workflow documents.'],
}

const COUNTER: Table = {
  'GET /api/counter/products': ['person', 'Products to order at the counter of the demo shop.'],
  'GET /api/counter/customers': ['person', 'Customers at the counter.'],
  'GET /api/counter/orders': ['person', 'The latest orders.'],
  'POST /api/counter/orders': ['person', 'Places an order.'],
  'POST /api/counter/orders/{id}/events': ['person', 'Has something happen to an order.'],
  'POST /api/counter/happenings': ['person', 'Has something else happen.'],
  'GET /api/counter/subscriptions': ['person', 'The latest subscriptions.'],
  'POST /api/counter/subscriptions/{id}/events': [
    'person',
    'Has something happen to a subscription.',
  ],
  'GET /api/counter/events': ['person', 'The latest events of the counter.'],
}

const TAGS = {
  Incoming: INCOMING,
  Watch: WATCH,
  Customers: CUSTOMERS,
  Workflows: { ...WORKFLOWS, ...ARCHIVES },
  Results: RESULTS,
  Messages: MESSAGES,
  Rehearsal: REHEARSAL,
  People: PEOPLE,
  Shop: SHOP,
  Counter: COUNTER,
}

/** Every route there is: who may call it, and what it does. A route that is not here answers no key. */
export const OPERATIONS: ReadonlyMap<string, Operation & { tag: string }> = new Map(
  Object.entries(TAGS).flatMap(([tag, table]) =>
    Object.entries(table).map(
      ([key, [access, summary]]) => [key, { access, summary, tag }] as const,
    ),
  ),
)

export const TAG_NAMES: readonly string[] = Object.keys(TAGS)

/** The key of a route in the table: its method, and its path as OpenAPI writes it. */
export const operationKey = (method: string, url: string): string =>
  `${method} ${url.replaceAll(/:(\w+)/g, '{$1}')}`
// prettier-ignore
