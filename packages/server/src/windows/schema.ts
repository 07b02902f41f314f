import { z } from "zod";
import { CALENDAR } from "../calendars/index.js";

const ZONE = z.string({ error: "an IANA time zone, such as Europe/London" });
const WINDOW = z.string({ error: "a window, such as month-1/now" });
const INSTANT = z.iso
  .datetime({ offset: true, error: "an instant such as 2026-11-25T09:00:00Z" })
  .optional();
const LABEL = z.string().min(1).max(128);

/** A window to be resolved; the instant is the moment of the request unless told. */
export const RESOLVE = z.strictObject({
  window: WINDOW,
  asOf: INSTANT,
  zone: ZONE,
  calendar: CALENDAR.optional(),
});

/** When and where named windows are to be resolved, in an address. */
export const ASKED = z.strictObject({ asOf: INSTANT, zone: ZONE.default("UTC") });

/** A named window to be declared; its name is in the address. */
export const NAMED_WINDOW = z.strictObject({ label: LABEL, window: WINDOW });

const RUNG = z.union(
  [
    z.string(),
    z.strictObject({ name: z.string().min(1).max(64), label: LABEL.optional(), window: WINDOW }),
  ],
  { error: "the name of a window, or { name, window }" },
);

/** A ladder to be declared; its name is in the address. */
export const LADDER = z.strictObject({
  label: LABEL.optional(),
  zone: ZONE.default("UTC"),
  calendar: CALENDAR.default({}),
  rungs: z.array(RUNG).min(2, "two rungs at least").max(100, "100 rungs at most"),
});

export type LadderSent = z.output<typeof LADDER>;
