const KEY = 'yomble.theme'
type Theme = 'paper' | 'night'

/** The theme a person chose, else the one their system asks for. */
export function currentTheme(): Theme {
  const chosen = localStorage.getItem(KEY)
  if (chosen === 'paper' || chosen === 'night') return chosen
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'paper'
}

/** Puts a theme on the page and remembers it. */
export function applyTheme(theme: Theme): void {
  document.documentElement.dataset['theme'] = theme
  localStorage.setItem(KEY, theme)
}
