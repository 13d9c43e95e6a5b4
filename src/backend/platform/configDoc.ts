import { SECRETS, settings } from './config.ts'

const LEAST = { DATABASE_URL: 'postgres://host/yomble', LINK_SECRET: 'x'.repeat(32) }

/** The page of settings, made from what reads them. */
export function configDoc(): string {
  const usual: Record<string, unknown> = settings.parse(LEAST)
  const rows = Object.entries(settings.shape).map(([name, { description = '' }]) => {
    const without = name in LEAST ? 'has to be set' : name in usual ? `\`${JSON.stringify(usual[name]).replaceAll('"', '')}\`` : '–' // prettier-ignore
    return `| \`${name}\` | ${description} | ${without} |`
  })
  return `# Settings

Made from \`src/backend/platform/config.ts\` by \`npm run schema\`. All stand in the environment. A setting that contradicts another, or a name that looks like one of these and is none, stops the start; \`yomble check\` looks at what they lead to.

| Name | What it says | Without it |
| ---- | ------------ | ---------- |
${rows.join('\n')}

${SECRETS.map((name) => `\`${name}\``).join(', ')} may stand in a file instead, which \`<name>_FILE\` names. \`BACKUP_PASSPHRASE\` or \`BACKUP_PASSPHRASE_FILE\` is for \`yomble backup\` and \`yomble keys\` alone.
`
}
