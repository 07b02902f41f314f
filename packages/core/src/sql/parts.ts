import type { FixedField, FixedForm } from "../reading/index.js";
import { numeral, sql, type Fragment } from "./fragment.js";

/** What stands behind the date in a text of a form: its offset. */
export function behind(text: Fragment, form: FixedForm): Fragment {
  return sql`SUBSTR(${text}, ${numeral(form.characters.length + 1)})`;
}

/** A part of a date whose text has a fixed form. */
export function partOf(text: Fragment, form: FixedForm, field: FixedField): Fragment {
  const { at, width } = form.places.get(field) ?? { at: 0, width: 0 };
  return sql`SUBSTR(${text}, ${numeral(at + 1)}, ${numeral(width)})`;
}
