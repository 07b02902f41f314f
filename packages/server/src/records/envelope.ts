import {
  NESTED_ROWS,
  fault,
  type Fault,
  type NestedRows,
  type ListingDeclaration,
  type SentParameters,
} from "@orisma/core";
import { z } from "zod";

/** How a total is wanted: stopped at a limit, to the last record, or not at all. */
export const COUNTS = ["capped", "exact", "none"] as const;
/** Dearer figures that can be asked for beside the records. */
export const EXTRAS = ["unfiltered"] as const;

/** The parameters that mean the same at every listing. */
export interface Envelope {
  readonly size: number;
  readonly cursor: string | null;
  readonly count: (typeof COUNTS)[number];
  /** What is shown of records with values inside; null for a source without. */
  readonly rows: NestedRows | null;
  readonly extras: readonly (typeof EXTRAS)[number][];
}

/** Made once: making a schema costs far more than reading a value under it. */
const SIZE = z
  .string()
  .regex(/^\d{1,9}$/)
  .transform(Number)
  .optional();
const COUNT = z.enum(COUNTS).default("capped");
const ROWS = z.enum(NESTED_ROWS).optional();
const EXTRA = z.array(z.enum(EXTRAS)).default([]);

/** Reads the fixed parameters of a request; gives every fault beside what could be read. */
export function readEnvelope(
  sent: SentParameters,
  { page, rows: declared }: ListingDeclaration,
): { readonly envelope: Envelope; readonly faults: readonly Fault[] } {
  const faults: Fault[] = [];
  const text = (name: string) => {
    const value = sent.get(name)?.[0]?.trim() ?? "";
    return value === "" ? undefined : value;
  };
  const read = SIZE.safeParse(text("size"));
  const size = read.success ? (read.data ?? page.size) : NaN;
  if (!(size >= 1 && size <= page.most)) {
    const place = { parameter: "size", value: text("size") ?? "" };
    faults.push(fault("page.size", { least: 1, most: page.most }, place));
  }
  const count = COUNT.safeParse(text("count"));
  if (!count.success) faults.push(choiceFault("count", text("count"), COUNTS));
  const rows = ROWS.safeParse(text("rows"));
  if (!rows.success) faults.push(choiceFault("rows", text("rows"), NESTED_ROWS));
  const extras = EXTRA.safeParse(
    text("with")
      ?.split(",")
      .map((each) => each.trim()),
  );
  if (!extras.success) faults.push(choiceFault("with", text("with"), EXTRAS));
  return {
    envelope: {
      size,
      cursor: text("cursor") ?? null,
      count: count.success ? count.data : "capped",
      rows: (rows.success ? rows.data : undefined) ?? declared ?? null,
      extras: extras.success ? extras.data : [],
    },
    faults,
  };
}

function choiceFault(
  parameter: string,
  value: string | undefined,
  accepted: readonly string[],
): Fault {
  return fault(
    "parameter.value",
    { accepted: accepted.join(", ") },
    { parameter, value: value ?? "" },
  );
}
