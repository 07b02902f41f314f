import { z } from "zod";
import { describeCalls } from "./call.js";

const tag = "service";
const DOCUMENT = z.looseObject({});

/** What whoever runs the service needs, and its own description. */
export const SERVICE_CALLS = describeCalls({
  "GET /health/live": {
    tag,
    summary: "Whether the service lives",
    role: null,
    answer: z.object({ status: z.string() }),
  },
  "GET /health/ready": {
    tag,
    summary: "Whether it can answer, and which listings no longer fit their sources",
    role: null,
    answer: z.object({ status: z.string(), listings: z.array(z.string()) }),
    problems: ["unavailable"],
  },
  "GET /metrics": {
    tag,
    summary: "Figures of the service in the text format of Prometheus",
    role: "owner",
    answer: z.string(),
    otherMedia: ["text/plain"],
  },
  "GET /openapi.json": {
    tag,
    summary: "This description, as far as the key may see",
    role: "reader",
    answer: DOCUMENT,
  },
  "GET /schemas/listing.json": {
    tag,
    summary: "The JSON Schema of a listing's declaration",
    role: null,
    answer: DOCUMENT,
  },
});
