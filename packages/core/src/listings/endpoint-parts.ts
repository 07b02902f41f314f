/** What can be a part of an answer in a shape of its own. */
export const ENDPOINT_PARTS = [
  "records",
  "total",
  "totalExact",
  "next",
  "previous",
  "sentence",
  "notices",
] as const;
export type EndpointPart = (typeof ENDPOINT_PARTS)[number];
