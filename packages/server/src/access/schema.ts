import { z } from "zod";
import { ROLES } from "../http/index.js";

/** The body of a request for a key. */
export const NEW_KEY = z.strictObject({
  name: z.string().trim().min(1, "a name of 1 to 64 signs").max(64, "a name of 1 to 64 signs"),
  role: z.enum(ROLES, `one of ${ROLES.join(", ")}`),
  /** Only for readers; left out for all listings. */
  listings: z.array(z.string()).min(1, "one listing at least").optional(),
  /** Left out for a key that does not lapse. */
  expiresAt: z.iso
    .datetime({ offset: true, error: "an instant such as 2027-01-01T00:00:00Z" })
    .optional(),
});

/** The body of a sign-in. */
export const SIGN_IN = z.strictObject({
  code: z.string().max(200, "a code of 12 signs, or a key"),
});
