import {
  BLANK_PLACES,
  BLANK_POLICIES,
  DATE_ENCODINGS,
  DATE_COMPARISONS,
  DATE_PARAMETER_TYPES,
  DERIVED_PARTS,
  ENDPOINT_PARTS,
  MAX_ORDERED,
  MAX_SEARCHED,
  NESTED_ROWS,
  ALLOWED_ROLES,
  REVERSED_POLICIES,
  VALUE_COMPARISONS,
  VALUE_PARAMETER_TYPES,
  type EndpointPart,
  type ListingDeclaration,
} from "@orisma/core/internal";
import { z } from "zod";
import { CALENDAR } from "./calendar.js";
import { tied, type Sent, type Shown } from "./schema.js";

const TEXT = z.string().min(1).max(128);
/** A value of a column, of its own type or as text. */
const OFFERED_VALUE = z.union([z.string(), z.number(), z.boolean()], {
  error: "a string, a number, true or false",
});

const FORMS = DATE_ENCODINGS.filter((encoding) => encoding !== "native");

/** A form in which callers may send dates. */
const FORM = z.strictObject({
  encoding: z.enum(FORMS, `one of ${FORMS.join(", ")}`),
  patterns: z.array(TEXT).max(20).exactOptional(),
  locales: z.array(TEXT).max(20).exactOptional(),
  twoDigitYearFrom: z.int().min(1).max(9_900).exactOptional(),
});

/** What every parameter has. */
const COMMON = {
  name: TEXT,
  pair: TEXT.exactOptional(),
  blanks: z.enum(BLANK_POLICIES, `one of ${BLANK_POLICIES.join(", ")}`).default("exclude"),
  label: TEXT.exactOptional(),
  description: z.string().max(1_000).exactOptional(),
  example: TEXT.exactOptional(),
  required: z.boolean().exactOptional(),
  default: z
    .union([z.string().max(1_000), z.array(z.string().max(1_000)).max(100)])
    .exactOptional(),
};

const VALUE_PARAMETER = z.strictObject({
  ...COMMON,
  type: z.enum(VALUE_PARAMETER_TYPES),
  comparison: z.enum(VALUE_COMPARISONS, `one of ${VALUE_COMPARISONS.join(", ")}`),
  column: TEXT.exactOptional(),
  columns: z.array(TEXT).min(1).max(MAX_SEARCHED).exactOptional(),
  caseSensitive: z.boolean().exactOptional(),
  values: z.array(z.string().max(1_000)).min(1).max(1_000).exactOptional(),
});

const DATE_PARAMETER = z.strictObject({
  ...COMMON,
  type: z.enum(DATE_PARAMETER_TYPES),
  column: TEXT,
  comparison: z.enum(DATE_COMPARISONS, `one of ${DATE_COMPARISONS.join(", ")}`),
  accepts: FORM.exactOptional(),
  fields: z
    .strictObject({
      year: TEXT.exactOptional(),
      month: TEXT.exactOptional(),
      day: TEXT.exactOptional(),
    })
    .exactOptional(),
  limits: z
    .strictObject({
      earliest: TEXT.exactOptional(),
      latest: TEXT.exactOptional(),
      longest: TEXT.exactOptional(),
    })
    .exactOptional(),
});

const TYPES = [...DATE_PARAMETER_TYPES, ...VALUE_PARAMETER_TYPES];
const PARAMETER = z.discriminatedUnion(
  "type",
  [DATE_PARAMETER, VALUE_PARAMETER],
  `a parameter has a type: one of ${TYPES.join(", ")}`,
);

const DERIVED = z.discriminatedUnion(
  "kind",
  [
    z.strictObject({ kind: z.literal("days"), from: TEXT, to: TEXT }),
    z.strictObject({
      kind: z.literal("part"),
      part: z.enum(DERIVED_PARTS, `one of ${DERIVED_PARTS.join(", ")}`),
      column: TEXT,
    }),
  ],
  "a column that is made is of the kind days or part",
);

const FORMAT = z.strictObject({
  pattern: TEXT.exactOptional(),
  locale: TEXT.exactOptional(),
  decimals: z.int().exactOptional(),
  prefix: TEXT.exactOptional(),
  suffix: TEXT.exactOptional(),
  yes: TEXT.exactOptional(),
  no: TEXT.exactOptional(),
});

const ORDER = z.strictObject({
  allowed: z
    .array(TEXT)
    .max(200)
    .describe("The columns that callers may order by.")
    .exactOptional(),
  default: TEXT.describe("One of them, with - before it for descending.").exactOptional(),
  tieBreakers: z
    .array(TEXT)
    .max(MAX_ORDERED)
    .meta({
      title: "Tie breakers",
      description: "Columns that order records which the requested order leaves alike.",
    })
    .exactOptional(),
  blanks: z
    .enum(BLANK_PLACES, `one of ${BLANK_PLACES.join(", ")}`)
    .meta({
      title: "Blanks",
      description:
        "Where records without a value stand: first ascending, last descending by default.",
    })
    .exactOptional(),
});

const PAGE = z.strictObject({
  size: z.int().describe("Records on a page by default.").exactOptional(),
  max: z.int().meta({ title: "Maximum page size", description: "In records." }).exactOptional(),
  numbered: z
    .boolean()
    .meta({
      title: "Numbered pages",
      description: "Whether pages have numbers too, which reads all pages before.",
    })
    .exactOptional(),
});

/** A value that a cell is to have: null empties it. */
export const EDIT_VALUE = z.union(
  [z.string().max(1_000_000), z.number(), z.boolean(), z.null()],
  "a string, a number, true, false or null",
);

const ALLOWED_ROLE = z.enum(ALLOWED_ROLES, `one of ${ALLOWED_ROLES.join(", ")}`);

/** The parts of an answer in a shape of its own, by the names that they get. */
const ENDPOINT_NAMES = Object.fromEntries(
  ENDPOINT_PARTS.map((part) => [part, TEXT.exactOptional()]),
) as Readonly<Record<EndpointPart, z.ZodExactOptional<typeof TEXT>>>;

/** Those who may do something, by name. */
const NAMED = z.array(TEXT).min(1).max(200);
const MAY = `one of ${ALLOWED_ROLES.join(", ")}, or a list of people, keys and group:NAME`;

/** A listing as it is declared; its name is in the address. Meaning is checked by the core. */
export const LISTING = z.strictObject({
  title: TEXT.exactOptional().describe("What people call the listing; its name by default."),
  source: TEXT.describe("The source whose records it shows."),
  basedOn: TEXT.exactOptional().meta({
    title: "Made from",
    description: "The listing that it was made from, if any.",
  }),
  zone: TEXT.default("UTC").describe("The IANA zone in which days begin and end."),
  mainDate: TEXT.exactOptional().describe(
    "The date column that its window and timeline speak of; the only one of the source by default.",
  ),
  parameters: z
    .array(PARAMETER)
    .max(200)
    .exactOptional()
    .describe("Its typed inputs; from and to of the main date and one for each column by default."),
  columns: z
    .array(TEXT)
    .max(1_000)
    .default([])
    .describe("The columns shown, in order; all of them by default."),
  order: ORDER.default({}).meta({ title: "Order" }),
  derived: z
    .record(TEXT, DERIVED)
    .exactOptional()
    .describe("Columns that are worked out of others, by name."),
  relations: z
    .record(
      TEXT,
      z.strictObject({ source: TEXT, by: TEXT, columns: z.array(TEXT).min(1).max(1_000) }),
    )
    .exactOptional()
    .describe(
      "Records of other sources beside each record, by name: their columns are filtered and ordered like its own where both lie in one database.",
    ),
  formats: z
    .record(TEXT, FORMAT)
    .exactOptional()
    .describe("How values are shown to people, by column."),
  labels: z.record(TEXT, TEXT).exactOptional().describe("What headings are called, by column."),
  choices: z
    .record(
      TEXT,
      z.strictObject({
        groups: z.record(TEXT, z.array(OFFERED_VALUE).min(1).max(1_000)).exactOptional(),
        hidden: z.array(OFFERED_VALUE).max(1_000).exactOptional(),
        disabled: z.array(OFFERED_VALUE).max(1_000).exactOptional(),
        recent: z.boolean().exactOptional(),
        values: z.boolean().exactOptional(),
        blanks: z.boolean().exactOptional(),
        calendar: z.boolean().exactOptional(),
        windows: z.boolean().exactOptional(),
      }),
    )
    .exactOptional(),
  page: PAGE.default({}).meta({ title: "Pages" }),
  total: z
    .strictObject({
      upTo: z
        .int()
        .min(1)
        .max(1_000_000_000)
        .meta({ title: "Count up to", description: "Records; 10,000 by default." }),
    })
    .exactOptional()
    .meta({ title: "Totals", description: "How far records are counted for a total." }),
  public: z.boolean().exactOptional().meta({
    title: "Public",
    description: "Whether anybody may read it without a key, here and on a page of its own.",
  }),
  feed: z
    .strictObject({
      title: z.string().min(1).max(500).meta({
        title: "Entry",
        description: "What each record is called: columns in braces, as in {task} at {place}.",
      }),
      start: TEXT.exactOptional().meta({
        title: "Start",
        description: "The date column at which each begins; the main date by default.",
      }),
      end: TEXT.exactOptional().meta({
        title: "End",
        description: "The date column at which each ends; that day is in.",
      }),
      description: z.array(TEXT).max(50).exactOptional(),
      location: TEXT.exactOptional().meta({ title: "Location", description: "A column." }),
      planned: z
        .strictObject({ column: TEXT, values: z.array(z.string()).min(1).max(100) })
        .exactOptional()
        .describe("The records that are planned only: those with one of these values in a column."),
    })
    .exactOptional()
    .meta({
      title: "Calendar and feed",
      description: "How records are shown in calendars and feeds.",
    }),
  endpoint: z
    .strictObject({
      path: z.string().min(1).max(500).describe("Begins with /api/; parameters stand in braces."),
      order: z
        .strictObject({
          field: TEXT,
          direction: TEXT.exactOptional(),
          ascending: TEXT.exactOptional(),
          descending: TEXT.exactOptional(),
        })
        .exactOptional(),
      paging: z
        .strictObject({
          limit: TEXT.exactOptional(),
          page: TEXT.exactOptional(),
          offset: TEXT.exactOptional(),
        })
        .exactOptional(),
      fields: z.record(TEXT, TEXT).exactOptional(),
      answer: z
        .union([
          z.literal("list"),
          z.strictObject({
            ...ENDPOINT_NAMES,
            records: TEXT,
          }),
        ])
        .exactOptional(),
      messages: z.record(TEXT, z.record(TEXT, z.string().max(1_000))).exactOptional(),
    })
    .exactOptional()
    .describe("An endpoint of its own, in the form that its clients know."),
  editable: z
    .array(TEXT)
    .max(1_000)
    .exactOptional()
    .describe("The columns that can be edited, of those that are shown."),
  actions: z
    .record(
      TEXT,
      z.strictObject({
        label: TEXT.exactOptional(),
        set: z.record(TEXT, EDIT_VALUE).describe("The value of each column, as in an edit."),
      }),
    )
    .exactOptional()
    .describe("Changes by name, for one record or for all that a filter keeps."),
  resume: z
    .union(
      [
        z.boolean(),
        z.strictObject({
          column: TEXT.describe("The column of instants that every change of a record sets."),
          lag: TEXT.describe(
            "How long a change may take to become visible, such as PT5M (ISO 8601): what is later is not returned yet.",
          ),
        }),
      ],
      'true, false, or { "column": …, "lag": "PT5M" }',
    )
    .exactOptional()
    .meta({
      title: "Resume",
      description:
        "Whether programs may pick up where they stopped, with resume: they get each record that was added or changed since, once. Of an imported source imports note from then on which records they change; of an attached table a column says when.",
    }),
  maxConcurrent: z.int().min(1).max(1_000).exactOptional().meta({
    title: "Concurrent calls",
    description:
      "Pages, figures and exports of this listing that run at once at most, each; the others wait.",
  }),
  calendar: CALENDAR.exactOptional().meta({
    title: "Calendar",
    description: "How weeks, fiscal years and working days are counted.",
  }),
  rows: z
    .enum(NESTED_ROWS, `one of ${NESTED_ROWS.join(", ")}`)
    .exactOptional()
    .meta({
      title: "Rows",
      description: "Of a source with values inside: each record once, or a line for each value.",
    }),
  fixedFilter: z
    .string()
    .min(1)
    .max(10_000)
    .exactOptional()
    .describe("A condition in CQL2 that no caller can change."),
  describeFixedFilter: z
    .union([z.boolean(), z.string().max(1_000)], "true, false, or words of its own")
    .exactOptional()
    .meta({
      title: "Description of the fixed filter",
      description:
        "Whether readers are shown that condition in words (yes or no), or other words in its " +
        "place; by default where they may see all of its columns.",
    }),
  units: z.record(TEXT, z.strictObject({ scale: z.int() })).exactOptional(),
  cacheFor: z
    .strictObject({
      current: TEXT.describe("Of a window that has not ended, as an ISO 8601 duration.")
        .meta({ title: "Current" })
        .exactOptional(),
      past: TEXT.describe("Of a window that has ended, as an ISO 8601 duration.")
        .meta({ title: "Past" })
        .exactOptional(),
    })
    .exactOptional()
    .meta({
      title: "How long an answer may be cached",
      description: "How long an answer may be kept; not at all by default.",
    }),
  allowedOrigins: z.array(TEXT).max(100).exactOptional().meta({
    title: "Allowed origins",
    description: "The web origins whose pages may read it, such as https://vale.example.",
  }),
  allow: z
    .strictObject({
      asOf: ALLOWED_ROLE.meta({ title: "Instant (asOf)" }).exactOptional(),
      zone: ALLOWED_ROLE.meta({ title: "Zone" }).exactOptional(),
      read: NAMED.describe("Those who may read it beside authors, by name; all by default.")
        .meta({ title: "Read" })
        .exactOptional(),
      edit: z.union([ALLOWED_ROLE, NAMED], MAY).meta({ title: "Edit records" }).exactOptional(),
      act: z.union([ALLOWED_ROLE, NAMED], MAY).meta({ title: "Use actions" }).exactOptional(),
    })
    .exactOptional()
    .meta({
      title: "Who may",
      description:
        "The least role that may say at which instant and in which zone, edit records, and use actions; or those who may, by name.",
    }),
  unknownParameters: z.enum(["reject", "ignore"], "reject or ignore").exactOptional().meta({
    title: "Unknown parameters",
    description: "Whether a request with one is refused, which it is by default.",
  }),
  phrases: z
    .union([z.boolean(), z.string().max(35)], "true, false, or a language such as de")
    .exactOptional()
    .meta({
      title: "Phrases",
      description:
        "Whether dates and windows may be sent as people write them, in English or also in a language that is named here (de, fr, es, it, nl, pl, pt): last month, since Monday, 3 Apr 2025. One with several meanings is refused, and nearest lists them. Not by default.",
    }),
  filter: z
    .strictObject({
      columns: z
        .union([z.literal("all"), z.array(TEXT).max(1_000)], '"all", or a list of columns')
        .describe("The columns that callers may speak of: all that are shown, or these."),
    })
    .exactOptional(),
  reversed: z
    .enum(REVERSED_POLICIES, `one of ${REVERSED_POLICIES.join(", ")}`)
    .default("swap")
    .meta({
      title: "Reversed dates",
      description: "Whether two dates in reverse order are swapped or refused.",
    }),
});

/** Values by parameter, as they are sent. */
export const SENT_VALUES = z.record(
  TEXT,
  z.union([z.string(), z.array(z.string()).min(1).max(1_000)], "a text, or a list of strings"),
);

/** A listing that is made from another. */
export const LISTING_COPY = z.strictObject({
  name: TEXT.describe("A letter, then letters, digits, - or _."),
  title: TEXT.exactOptional(),
  bound: SENT_VALUES.default({}).describe(
    "Values of parameters that nobody can change, as a caller sends them; the parameters are none of it any more.",
  ),
  defaults: SENT_VALUES.default({}).describe(
    "Values of parameters that apply where a caller sends none.",
  ),
  order: TEXT.exactOptional().describe("The default order, as a caller sends it."),
  columns: z.array(TEXT).max(1_000).exactOptional(),
  labels: z.record(TEXT, TEXT).exactOptional(),
  formats: z.record(TEXT, FORMAT).exactOptional(),
  pageSize: z.int().min(1).exactOptional(),
});

/** A listing as it was sent and read, before it is completed. */
export type ListingSent = Shown<typeof LISTING>;

/** A listing to be declared; what is not given has a default. */
export type NewListing = Sent<typeof LISTING>;

/** A declaration that is completed. */
export const LISTING_DECLARATION = tied<ListingDeclaration>()(
  LISTING.extend({
    name: TEXT,
    title: TEXT,
    mainDate: TEXT,
    parameters: z.array(PARAMETER),
    order: ORDER.extend({ allowed: z.array(TEXT), default: TEXT }),
    page: PAGE.extend({ size: z.int(), max: z.int() }),
  }).meta({
    id: "ListingDeclaration",
    description:
      "A named, served, filtered view of a source, already parsed and completed with defaults.",
  }),
);

/** What a declaration's file has beside the declaration, and a request may have. */
const SCHEMA_OF_FILE = { $schema: z.string().exactOptional() };

/** A declaration as it is sent: the file that {@link declarationSchema} describes, with or without its name. */
export const SENT_LISTING = LISTING.extend({
  ...SCHEMA_OF_FILE,
  name: TEXT.describe("The name in the URL, if it is given here too.").exactOptional(),
});

/** A declaration as it stands in a file. */
const LISTING_FILE = LISTING.extend({
  ...SCHEMA_OF_FILE,
  name: TEXT.describe("The name in the listing's address: a letter, then letters, digits, - or _."),
});

/**
 * The schema of a declaration's file, with which editors complete it; what it means is checked
 * against the source.
 *
 * @see JSON Schema, draft 2020-12
 */
export function declarationSchema(): object {
  return {
    ...z.toJSONSchema(LISTING_FILE, { io: "input", target: "draft-2020-12" }),
    title: "A listing of Orisma",
  };
}
