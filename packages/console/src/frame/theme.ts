/** The two faces of the console, and the reader's own system deciding between them. */
export const THEMES = ["system", "towpath", "lamplight"] as const;
export type Theme = (typeof THEMES)[number];

const KEY = "orisma-theme";

/** The theme that this browser remembers. */
export function storedTheme(): Theme {
  const stored = localStorage.getItem(KEY);
  return THEMES.find((theme) => theme === stored) ?? "system";
}

/** Shows a theme and remembers it. */
export function applyTheme(theme: Theme): void {
  if (theme === "system") document.documentElement.removeAttribute("data-theme");
  else document.documentElement.setAttribute("data-theme", theme);
  localStorage.setItem(KEY, theme);
}
