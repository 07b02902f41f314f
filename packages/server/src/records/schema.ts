import { z } from "zod";

const PARAMETERS = z.record(
  z.string().max(200),
  z.union([z.string(), z.array(z.string()).max(1_000)], { error: "a text, or a list of texts" }),
);

/** Two requests to one listing, each the parameters of an address. */
export const COMPARE = z.strictObject({
  before: PARAMETERS.default({}),
  after: PARAMETERS.default({}),
  /** Records that are shown of each difference at most. */
  size: z.int().min(1).max(1_000).optional(),
});

/** A request to a listing in a body: the parameters of an address. */
export const QUERY = PARAMETERS;

/** Several requests to one listing, each the parameters of an address, to be counted. */
export const COUNT_REQUESTS = z.strictObject({
  requests: z.array(PARAMETERS).min(1).max(100),
});

export type CountsSent = z.output<typeof COUNT_REQUESTS>;
export type CompareSent = z.output<typeof COMPARE>;
