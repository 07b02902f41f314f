import type { FixedField, FixedForm } from "../reading/index.js";
import { sql, type Fragment } from "./fragment.js";

/** A part of a date whose text has a fixed form. */
export function partOf(text: Fragment, form: FixedForm, field: FixedField): Fragment {
  const { at, width } = form.places.get(field) ?? { at: 0, width: 0 };
  return sql`SUBSTR(${text}, ${place(at + 1)}, ${place(width)})`;
}

/** A place in a text: of the form of a pattern, and so never of what anybody typed. */
export function place(number: number): Fragment {
  return { kind: "text", text: String(number) };
}
