import type { FixedField, FixedForm } from "../reading/index.js";
import { numeral, sql, type Fragment } from "./fragment.js";

/** A part of a date whose text has a fixed form. */
export function partOf(text: Fragment, form: FixedForm, field: FixedField): Fragment {
  const { at, width } = form.places.get(field) ?? { at: 0, width: 0 };
  return sql`SUBSTR(${text}, ${numeral(at + 1)}, ${numeral(width)})`;
}
