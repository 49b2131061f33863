const KEY = 'wide-lattice.theme';

/** Paper is light, slate is dark. */
export type Theme = 'paper' | 'slate';

/** The chosen theme, or what the system prefers. */
export function currentTheme(): Theme {
  const stored = localStorage.getItem(KEY);
  if (stored === 'paper' || stored === 'slate') return stored;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'slate' : 'paper';
}

/** Shows and remembers a theme. */
export function chooseTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  document.documentElement.dataset['theme'] = theme;
}

/** Shows the chosen theme before anything is drawn. */
export function applyStoredTheme(): void {
  document.documentElement.dataset['theme'] = currentTheme();
}
