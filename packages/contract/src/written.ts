import {
  DECIMAL_SEPARATORS,
  GROUP_SEPARATORS,
  type BooleanForm,
  type NumberForm,
} from "@orisma/core/internal";
import { z } from "zod";
import { tied } from "./schema.js";

const FORM = z.strictObject({
  decimal: z
    .enum(DECIMAL_SEPARATORS, `one of ${DECIMAL_SEPARATORS.join(" ")}`)
    .describe("The character before the decimals; a point, or a comma where groups have points.")
    .exactOptional(),
  group: z
    .enum(GROUP_SEPARATORS, "a point, a comma, a space or an apostrophe")
    .describe("The character between groups of digits; none by default.")
    .exactOptional(),
  units: z
    .array(z.string().min(1).max(12))
    .max(20)
    .describe("What may stand before or after a number, such as € or kg.")
    .exactOptional(),
  accounting: z.boolean().describe("Whether (12) and 12- are negative.").exactOptional(),
});

/** How the numbers of a column are written, as it is sent. */
export const NUMBER_FORM = tied<NumberForm>()(FORM);

/** The same as it is returned. */
export const NUMBER_FORM_SHOWN = tied<NumberForm>()(
  FORM.meta({ id: "NumberForm", description: "How the numbers of a column are written." }),
);

const WORDS = z.array(z.string().min(1).max(100)).min(1).max(100);
const BOOLEANS = z.strictObject({
  true: WORDS.describe("Words for yes, in any letter case."),
  false: WORDS.describe("Words for no."),
});

/** How yes and no are written in a column, as it is sent. */
export const BOOLEAN_FORM = tied<BooleanForm>()(BOOLEANS);

/** The same as it is returned. */
export const BOOLEAN_FORM_SHOWN = tied<BooleanForm>()(
  BOOLEANS.meta({ id: "BooleanForm", description: "How yes and no are written in a column." }),
);
