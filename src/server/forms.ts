import type { App } from './context.ts'

/** Takes what plain HTML forms send (application/x-www-form-urlencoded) as fields by their names. */
export function acceptForms(app: App): void {
  app.addContentTypeParser(
    'application/x-www-form-urlencoded',
    { parseAs: 'string' },
    (_request, body, done) => {
      done(null, Object.fromEntries(new URLSearchParams(body as string)))
    },
  )
}
