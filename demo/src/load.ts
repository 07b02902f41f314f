import { OrismaClient, OrismaError, type NewListing, type NewSource } from "@orisma/client";
import { DEMO_SEED, worksCsv } from "./works.js";

/** How the trust writes "no date". */
const BLANKS = ["N/A", "tbc"];
const DAY = {
  type: "date",
  reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: BLANKS },
} as const;

export const WORKS: NewSource = {
  name: "works",
  key: "order",
  columns: { raised: DAY, due: DAY, finished: DAY, cost: { type: "integer" } },
};

export const WORKS_RAISED: NewListing = {
  title: "Works raised",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
    { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
  ],
  order: { allowed: ["raised", "due", "cost"], default: "-raised" },
};

/** Brings the demo data of today into a running service; a second time changes nothing. */
export async function loadDemo(service: {
  readonly url: string;
  readonly key: string;
}): Promise<void> {
  const client = new OrismaClient(service);
  const today = Math.floor(Date.now() / 86_400_000);
  await client.createSource(WORKS).catch((error: unknown) => {
    const isThere = error instanceof OrismaError && error.status === 409;
    if (!isThere) throw error;
  });
  await client.takeFile("works", worksCsv(DEMO_SEED, today));
  await client.declareListing("works-raised", WORKS_RAISED);
}
