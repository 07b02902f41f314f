import { z } from "zod";
import { describeCalls } from "./call.js";
import type { Shown } from "./schema.js";

/** Something that was found of an installation. */
export const FINDING = z
  .object({
    level: z.enum(["ok", "warning", "problem"]),
    what: z.string(),
    advice: z.string().describe("What to do about it.").exactOptional(),
  })
  .meta({ id: "Finding", description: "Something that was found of the installation." });
export type Finding = Shown<typeof FINDING>;

const tag = "service";

/** What whoever runs the service does to keep it running for years. */
export const UPKEEP_CALLS = describeCalls({
  "GET /v1/backup": {
    tag,
    summary: "A backup of all that the service keeps, as it is at one moment",
    role: "owner",
    query: z.strictObject({
      secret: z
        .enum(["true", "false"], "true or false")
        .describe(
          "Whether the backup holds the secret of the service, with which the passwords of attached databases can be read; not by default.",
        )
        .exactOptional(),
    }),
    answer: z.string(),
    otherMedia: ["application/gzip"],
    problems: ["busy"],
  },
  "POST /v1/restore": {
    tag,
    summary: "Put a backup in the place of what an empty service has; it starts anew after it",
    role: "owner",
    body: {
      media: ["application/gzip", "application/octet-stream"],
      description: "The backup, as it was sent.",
    },
    answer: z.object({ createdAt: z.string(), hasSecret: z.boolean() }),
    problems: ["already-there", "disk-full"],
  },
  "GET /v1/doctor": {
    tag,
    summary: "What is wrong with this installation, and what to do about it",
    role: "owner",
    answer: z.object({ findings: z.array(FINDING) }),
  },
});
