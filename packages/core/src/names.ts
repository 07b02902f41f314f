/** The names of months and days in all languages of the CLDR, for `addNames`; apart for their size. */
export { OTHER_NAMES } from "./reading/all-names.generated.js";
