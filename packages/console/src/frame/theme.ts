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

/** How high the rows of records are. */
export type Density = "roomy" | "compact";

/** What is done to have them so. */
export const DENSITY_WORDS: Readonly<Record<Density, string>> = {
  roomy: "Roomy rows",
  compact: "Compact rows",
};

const DENSITY_KEY = "orisma-density";

/** The height of rows that this browser remembers. */
export function storedDensity(): Density {
  return localStorage.getItem(DENSITY_KEY) === "compact" ? "compact" : "roomy";
}

/** Shows rows at a height and remembers it. */
export function applyDensity(density: Density): void {
  if (density === "roomy") document.documentElement.removeAttribute("data-density");
  else document.documentElement.setAttribute("data-density", density);
  localStorage.setItem(DENSITY_KEY, density);
}
