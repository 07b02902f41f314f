/** One piece of a pattern of texts: signs as they are, any one sign, or any number of them. */
export type PatternPiece = string | { readonly any: "sign" | "signs" };

/** How a text may be compared with another. */
export const TEXT_MATCHES = ["is", "contains", "begins", "ends"] as const;
export type TextMatch = (typeof TEXT_MATCHES)[number];

/**
 * Reads a pattern in which `%` stands for any number of signs, `_` for one, and a backslash makes
 * the sign after it stand for itself.
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
  const signs = Array.from(text);
  for (let index = 0; index < signs.length; index++) {
    const sign = signs[index] ?? "";
    if (sign === "\\") plain += signs[++index] ?? "\\";
    else if (sign === "%" || sign === "_") {
      close();
      const isMany = sign === "%";
      const last = pieces.at(-1);
      // Several in a row say no more than one.
      if (isMany && typeof last === "object" && last.any === "signs") continue;
      pieces.push({ any: isMany ? "signs" : "sign" });
    } else plain += sign;
  }
  close();
  return pieces;
}

/** The same, as text that {@link readPattern} reads back. */
export function patternText(pieces: readonly PatternPiece[]): string {
  return pieces
    .map((piece) => {
      if (typeof piece === "string") return piece.replace(/[\\%_]/g, "\\$&");
      return piece.any === "signs" ? "%" : "_";
    })
    .join("");
}

/** The pattern of a plain comparison. */
export function patternOf(match: TextMatch, text: string): readonly PatternPiece[] {
  const plain = text === "" ? [] : [text];
  const any = { any: "signs" } as const;
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
  const texts = pieces.filter((piece) => typeof piece === "string");
  const gaps = pieces.filter((piece) => typeof piece !== "string");
  const [text = ""] = texts;
  if (texts.length > 1 || gaps.some(({ any }) => any === "sign")) return null;
  const [first, last] = [pieces[0], pieces.at(-1)];
  const [opens, closes] = [typeof first === "object", typeof last === "object"];
  if (pieces.length === 0 || (!opens && !closes)) return { match: "is", text };
  if (opens && closes) return { match: "contains", text };
  return { match: opens ? "ends" : "begins", text };
}

/** Whether a whole text has a pattern's form; in time linear in the text for each gap. */
export function hasForm(text: string, pieces: readonly PatternPiece[]): boolean {
  const signs = Array.from(text);
  const units = pieces.flatMap((piece): (string | { readonly any: "sign" | "signs" })[] =>
    typeof piece === "string" ? Array.from(piece) : [piece],
  );
  let [at, unit, gapUnit, gapAt] = [0, 0, -1, 0];
  while (at < signs.length) {
    const wanted = units[unit];
    if (typeof wanted === "object" && wanted.any === "signs") {
      [gapUnit, gapAt] = [unit++, at];
    } else if (wanted !== undefined && (typeof wanted === "object" || wanted === signs[at])) {
      at++;
      unit++;
    } else if (gapUnit >= 0) {
      // The last gap takes one sign more.
      unit = gapUnit + 1;
      at = ++gapAt;
    } else return false;
  }
  return units.slice(unit).every((wanted) => typeof wanted === "object" && wanted.any === "signs");
}
