/** One piece of a pattern of strings: characters as they are, any one character, or any number of them. */
export type PatternPiece = string | { readonly any: "character" | "characters" };

/** How a text may be compared with another. */
export const TEXT_MATCHES = ["is", "contains", "begins", "ends"] as const;
export type TextMatch = (typeof TEXT_MATCHES)[number];

/**
 * Reads a pattern in which `%` stands for any number of characters, `_` for one, and a backslash makes
 * the character after it stand for itself.
 *
 * @see OGC CQL2, "Advanced Comparison Operators", LIKE
 */
export function readPattern(text: string): readonly PatternPiece[] {
  const pieces: PatternPiece[] = [];
  let plain = "";
  const close = () => {
    if (plain !== "") pieces.push(plain);
    plain = "";
  };
  const characters = Array.from(text);
  for (let index = 0; index < characters.length; index++) {
    const character = characters[index] ?? "";
    if (character === "\\") plain += characters[++index] ?? "\\";
    else if (character === "%" || character === "_") {
      close();
      const isMany = character === "%";
      const last = pieces.at(-1);
      // Several in a row say no more than one.
      if (isMany && typeof last === "object" && last.any === "characters") continue;
      pieces.push({ any: isMany ? "characters" : "character" });
    } else plain += character;
  }
  close();
  return pieces;
}

/** The same, as text that {@link readPattern} reads back. */
export function patternText(pieces: readonly PatternPiece[]): string {
  return pieces
    .map((piece) => {
      if (typeof piece === "string") return piece.replace(/[\\%_]/g, "\\$&");
      return piece.any === "characters" ? "%" : "_";
    })
    .join("");
}

/** The pattern of a plain comparison. */
export function patternOf(match: TextMatch, text: string): readonly PatternPiece[] {
  const plain = text === "" ? [] : [text];
  const any = { any: "characters" } as const;
  switch (match) {
    case "is":
      return plain;
    case "contains":
      return [any, ...plain, any];
    case "begins":
      return [...plain, any];
    case "ends":
      return [any, ...plain];
  }
}

/** The plain comparison that a pattern comes to, or null for one with gaps within. */
export function plainMatch(
  pieces: readonly PatternPiece[],
): { readonly match: TextMatch; readonly text: string } | null {
  const strings = pieces.filter((piece) => typeof piece === "string");
  const gaps = pieces.filter((piece) => typeof piece !== "string");
  const [text = ""] = strings;
  if (strings.length > 1 || gaps.some(({ any }) => any === "character")) return null;
  const [first, last] = [pieces[0], pieces.at(-1)];
  const [opens, closes] = [typeof first === "object", typeof last === "object"];
  if (pieces.length === 0 || (!opens && !closes)) return { match: "is", text };
  if (opens && closes) return { match: "contains", text };
  return { match: opens ? "ends" : "begins", text };
}

/** Whether a whole text has a pattern's form; in time linear in the text for each gap. */
export function hasForm(text: string, pieces: readonly PatternPiece[]): boolean {
  const characters = Array.from(text);
  const units = pieces.flatMap((piece): (string | { readonly any: "character" | "characters" })[] =>
    typeof piece === "string" ? Array.from(piece) : [piece],
  );
  let [at, unit, gapUnit, gapAt] = [0, 0, -1, 0];
  while (at < characters.length) {
    const wanted = units[unit];
    if (typeof wanted === "object" && wanted.any === "characters") {
      [gapUnit, gapAt] = [unit++, at];
    } else if (wanted !== undefined && (typeof wanted === "object" || wanted === characters[at])) {
      at++;
      unit++;
    } else if (gapUnit >= 0) {
      // The last gap takes one character more.
      unit = gapUnit + 1;
      at = ++gapAt;
    } else return false;
  }
  return units
    .slice(unit)
    .every((wanted) => typeof wanted === "object" && wanted.any === "characters");
}
