/** Every problem the API answers with: its status, its title, and what to do about it. docs/errors.md says more of each. */
export const PROBLEMS = {
  'not-json': { status: 400, title: 'The body is not JSON' },
  'not-readable': { status: 400, title: 'The body can’t be read' },
  'cut-off': { status: 400, title: 'The request was cut off' },
  'not-signed-in': { status: 401, title: 'Sign in first' },
  'wrong-sign-in': { status: 401, title: 'E-mail or password is not right' },
  'key-not-accepted': {
    status: 401,
    title: 'The intake key is missing, wrong or revoked',
    detail: 'Send it as Authorization: Bearer KEY.',
  },
  forbidden: { status: 403, title: 'Your role does not allow this' },
  'demo-elsewhere': {
    status: 403,
    title: 'The demo’s sign-ins work only on the machine itself',
    detail: 'Their password is published. Open Relvik as localhost, without a proxy.',
  },
  'foreign-request': {
    status: 403,
    title: 'The request did not come from this application',
    detail: 'Load the page again.',
  },
  'not-found': {
    status: 404,
    title: 'There is nothing here',
    detail: 'It does not exist, or it is outside what you may see.',
  },
  'lead-closed': { status: 409, title: 'The lead is closed' },
  'lead-changed': {
    status: 409,
    title: 'Someone changed this lead meanwhile',
    detail: 'Load it again and make your change on what is there now.',
  },
  'picked-up-already': {
    status: 409,
    title: 'It was picked up already',
    detail: 'Someone was quicker. The next one in the queue is yours to take.',
  },
  'email-taken': { status: 409, title: 'Another open lead has this e-mail' },
  'record-changed': {
    status: 409,
    title: 'Someone changed this record meanwhile',
    detail: 'Load it again and make your change on what is there now.',
  },
  'known-already': { status: 409, title: 'It is known already' },
  'cannot-join': { status: 409, title: 'These two can’t be joined' },
  'cannot-undo': { status: 409, title: 'This can’t be undone any more' },
  'draft-changed': { status: 409, title: 'Someone changed this draft meanwhile' },
  'draft-out-of-date': { status: 409, title: 'Another charter has come into force since this draft was made' },
  'job-ended': { status: 409, title: 'It has ended already' },
  'needed-in-force': { status: 409, title: 'The charter in force needs it' },
  'form-too-old': {
    status: 409,
    title: 'This page is too old to be sent',
    detail: 'Load it again, please; what you typed can be copied over.',
  },
  'too-large': { status: 413, title: 'The body is too large' },
  'encoding-not-supported': { status: 415, title: 'The body’s encoding is not supported' },
  invalid: { status: 422, title: 'Something in it is not right' },
  'not-csv': { status: 422, title: 'This is no CSV file that can be read' },
  'unknown-columns': { status: 422, title: 'The header names what can’t be taken in' },
  'form-incomplete': { status: 422, title: 'Please look at this again' },
  'draft-not-saved': { status: 422, title: 'The draft was not saved' },
  'charter-not-read': { status: 422, title: 'This is no charter that can be read' },
  'charter-not-ready': { status: 422, title: 'The draft can’t be enacted' },
  'key-reused': {
    status: 422,
    title: 'This Idempotency-Key came before with another body',
    detail: 'Use a new key for a new request.',
  },
  'too-many-tries': { status: 429, title: 'Too many tries', detail: 'Wait a minute and try again.' },
  'sign-in-paused': { status: 429, title: 'Too many wrong passwords' },
  failed: {
    status: 500,
    title: 'Something went wrong here',
    detail: 'Look whether it was stored before you try again; if it stays, the server’s log says more.',
  },
  'database-away': {
    status: 503,
    title: 'The database does not answer',
    detail:
      'It is not known whether this was stored. Try again in a moment: with the same Idempotency-Key it is stored once; otherwise look first.',
  },
  stopping: { status: 503, title: 'The server is stopping', detail: 'Nothing was stored. Try again in a moment.' },
  'computation-stopped': {
    status: 503,
    title: 'The computation stopped',
    detail: 'Nothing was changed. Ask again, and it begins anew.',
  },
} as const satisfies Record<string, { status: number; title: string; detail?: string }>;

export type ProblemCode = keyof typeof PROBLEMS;
