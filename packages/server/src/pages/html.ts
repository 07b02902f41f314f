/** A piece of HTML: what was put into it is escaped. */
export class Html {
  constructor(readonly text: string) {}
}

type Part = Html | string | number | null | readonly Part[];

/** Writes HTML; strings are escaped, null is nothing, and lists are one after the other. */
export function html(pieces: TemplateStringsArray, ...parts: readonly Part[]): Html {
  return new Html(
    pieces
      .map((text, index) => (index === 0 ? "" : textOf(parts[index - 1] ?? null)) + text)
      .join(""),
  );
}

function textOf(part: Part): string {
  if (part === null) return "";
  if (part instanceof Html) return part.text;
  if (typeof part === "string" || typeof part === "number") return escaped(String(part));
  return part.map(textOf).join("");
}

const ENTITIES: Readonly<Record<string, string>> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&#39;",
};

function escaped(text: string): string {
  return text.replace(/[&<>"']/g, (character) => ENTITIES[character] ?? "");
}
