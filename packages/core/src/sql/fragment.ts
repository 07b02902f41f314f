/** A value that may be bound to a prepared statement. */
export type SqlValue = string | number | bigint | null;

/**
 * A piece of SQL. Text comes only from templates in this code, names only from
 * {@link nameOf}, values only from {@link valueOf}: nothing that a caller typed can become text.
 */
export type Fragment =
  | { readonly kind: "text"; readonly text: string }
  | { readonly kind: "name"; readonly name: string }
  | { readonly kind: "value"; readonly value: SqlValue }
  /** A text compared sign by sign, whatever the collation of its column. */
  | { readonly kind: "exact"; readonly text: Fragment }
  | { readonly kind: "sequence"; readonly parts: readonly Fragment[] };

/** A finished statement: text with placeholders, and the values to bind, in order. */
export interface Statement {
  readonly text: string;
  readonly values: readonly SqlValue[];
}

/** How a database spells names and placeholders. */
export interface Dialect {
  quoteName(name: string): string;
  /** The placeholder of the value at a position, counted from 1. */
  placeholder(position: number): string;
  /** The collation under which two texts are equal only if they are the same, spaces too. */
  readonly exactCollation: string;
}

/** A piece of SQL text, with other pieces set into it. */
export function sql(texts: TemplateStringsArray, ...pieces: readonly Fragment[]): Fragment {
  const parts: Fragment[] = [];
  texts.forEach((text, index) => {
    if (text !== "") parts.push({ kind: "text", text });
    const piece = pieces[index];
    if (piece !== undefined) parts.push(piece);
  });
  return { kind: "sequence", parts };
}

/** The name of a table or column; only for names that come from the catalogue. */
export function nameOf(name: string): Fragment {
  return { kind: "name", name };
}

/** A value to bind. */
export function valueOf(value: SqlValue): Fragment {
  return { kind: "value", value };
}

/** Pieces with a separator between them. */
export function joined(pieces: readonly Fragment[], separator: Fragment): Fragment {
  const parts = pieces.flatMap((piece, index) => (index === 0 ? [piece] : [separator, piece]));
  return { kind: "sequence", parts };
}

/** Conditions in brackets with a word between them; one alone needs neither. */
export function together(
  conditions: readonly Fragment[],
  separator: Fragment,
  ofNothing: Fragment,
): Fragment {
  const [only] = conditions;
  if (only === undefined) return ofNothing;
  return conditions.length === 1 ? only : sql`(${joined(conditions, separator)})`;
}

/** Writes a piece out for a database. */
export function render(fragment: Fragment, dialect: Dialect): Statement {
  const values: SqlValue[] = [];
  const write = (piece: Fragment): string => {
    switch (piece.kind) {
      case "text":
        return piece.text;
      case "name":
        return dialect.quoteName(piece.name);
      case "exact":
        return `${write(piece.text)} COLLATE ${dialect.exactCollation}`;
      case "value":
        values.push(piece.value);
        return dialect.placeholder(values.length);
      case "sequence":
        return piece.parts.map(write).join("");
    }
  };
  return { text: write(fragment), values };
}
