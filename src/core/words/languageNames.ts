const names = new Map<string, Intl.DisplayNames>()

/** What a language is called in another: "German"; the tag itself where it has no name. */
export function languageName(tag: string, locale: string): string {
  const known = names.get(locale)
  const all = known ?? new Intl.DisplayNames([locale], { type: 'language' })
  if (!known) names.set(locale, all)
  // A shop's own language is told without where it is spoken.
  return all.of(tag === locale ? (tag.split('-')[0] ?? tag) : tag) ?? tag
}
