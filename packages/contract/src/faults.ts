import {
  FAULT_CODES,
  NOTICE_CODES,
  type RenderedFault,
  type RenderedNotice,
} from "@orisma/core/internal";
import { z } from "zod";
import { tied, type Shown } from "./schema.js";

export const RENDERED_FAULT = tied<RenderedFault>()(
  z
    .object({
      parameter: z.string().exactOptional(),
      path: z.string().exactOptional(),
      column: z.string().exactOptional(),
      value: z.string().exactOptional(),
      code: z.enum(FAULT_CODES),
      message: z.string(),
      accepted: z.string().exactOptional(),
      nearest: z.array(z.string()).readonly().exactOptional(),
    })
    .meta({
      id: "RenderedFault",
      description:
        "A fault as it is sent: one entry of a problem document's `faults` (RFC 9457, section 3.2).",
    }),
);

export const RENDERED_NOTICE = tied<RenderedNotice>()(
  z
    .object({ code: z.enum(NOTICE_CODES), message: z.string() })
    .meta({ id: "RenderedNotice", description: "A notice as it is sent." }),
);

export const PROBLEM_DOCUMENT = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.number(),
    detail: z.string(),
    instance: z.string(),
    faults: z.array(RENDERED_FAULT),
  })
  .meta({ id: "ProblemDocument", description: "A problem document (RFC 9457)." });
export type ProblemDocument = Shown<typeof PROBLEM_DOCUMENT>;
