import type { NewListing, NewSource, OrismaClient } from "@orisma/client";

const DAY = {
  type: "date",
  reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["N/A", "tbc"] },
} as const;

/** A small source with days and instants, and records at and around the edges of February. */
export const SMALL: NewSource = {
  name: "works",
  key: "order",
  columns: {
    raised: DAY,
    passed: { type: "date", reading: { kind: "instant", encoding: "text" } },
    cost: { type: "integer" },
  },
};

export const SMALL_CSV = `order,raised,passed,cost,note
W-01,31/01/2025,2025-01-31T23:59:59.999Z,1999,the day before
W-02,01/02/2025,2025-02-01T00:00:00Z,2000,"first, at midnight"
W-03,14/02/2025,2025-02-14T12:00:00Z,0,in the middle
W-04,28/02/2025,2025-02-28T00:00:00Z,500,last day at midnight
W-05,28/02/2025,2025-02-28T23:59:59.999Z,,last moment
W-06,01/03/2025,2025-03-01T00:00:00Z,12,next midnight
W-07,,,7,blank
W-08,N/A,  ,8,blank too
W-09,tbc,2025-02-03T10:00:00+05:30,x9,no number
W-10,31/02/2025,soon,10,unreadable
`;

/** Listings over it: one by day, one by moment, one that refuses reversed dates. */
export const LISTINGS: Readonly<Record<string, NewListing>> = {
  "works-raised": {
    title: "Works raised",
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
    ],
    order: { allowed: ["raised", "cost"], default: "raised" },
    page: { size: 3, max: 100 },
  },
  "works-passed": {
    source: "works",
    zone: "UTC",
    mainDate: "passed",
    parameters: [
      { name: "from", type: "datetime", column: "passed", comparison: "from", pair: "passed" },
      { name: "to", type: "datetime", column: "passed", comparison: "to", pair: "passed" },
      { name: "not", type: "date", column: "passed", comparison: "notOn" },
    ],
    columns: ["order", "passed"],
    reversed: "reject",
    page: { size: 100 },
  },
};

/** Imports the small source and its listings into a service. */
export async function importWorks(client: OrismaClient): Promise<void> {
  await client.createSource(SMALL);
  await client.importFile("works", SMALL_CSV);
  for (const [name, listing] of Object.entries(LISTINGS))
    await client.declareListing(name, listing);
}
