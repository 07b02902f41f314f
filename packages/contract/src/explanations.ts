import {
  BLANK_POLICIES,
  DATE_COMPARISONS,
  type AppliedDates,
  type CompoundExplained,
  type ConditionExplained,
  type Explanation,
  type Narrowing,
  type Neighbours,
  type PlanStep,
  type RecordVerdict,
  type SqlValue,
  type Statement,
  type ValueExplained,
  type WhyAnswer,
} from "@orisma/core/internal";
import { z } from "zod";
import { RENDERED_NOTICE } from "./faults.js";
import { RECORD_VALUE } from "./record-values.js";
import { tied } from "./schema.js";
import { INTERVAL_TEXT, RECURRING_TEXT } from "./windows.js";

export const APPLIED_DATES = tied<AppliedDates>()(
  z
    .object({
      parameter: z.string(),
      sent: z.string().describe("The text as it came under this name."),
      comparison: z.enum(DATE_COMPARISONS),
      value: z.string().describe("The date that was applied, in its canonical spelling."),
      canonical: z.string().describe("The window that it stands for."),
      ...INTERVAL_TEXT.shape,
    })
    .meta({
      id: "AppliedDates",
      description: "A parameter of dates as it was applied, as it is sent.",
    }),
);

export const CONDITION_EXPLAINED = tied<ConditionExplained>()(
  z
    .object({
      column: z.string(),
      side: z
        .enum(["inside", "outside"])
        .describe("Which side of the interval is kept, and what happens to blanks."),
      blanks: z.enum(BLANK_POLICIES),
      parameters: z
        .array(APPLIED_DATES)
        .describe("The parameters that it came from; none for a condition of the filter."),
      intervals: z
        .array(INTERVAL_TEXT)
        .describe("What is compared: wall clock in the listing's zone, and universal time."),
      recurring: z
        .array(RECURRING_TEXT)
        .describe("Parts that recur, before they are laid out over the dates that there are."),
    })
    .meta({
      id: "ConditionExplained",
      description: "One condition, from what was sent to what is bound.",
    }),
);

export const VALUE_EXPLAINED = tied<ValueExplained>()(
  z
    .object({
      parameters: z.array(
        z.object({
          parameter: z.string(),
          sent: z.array(z.string()).describe("The strings as they came under this name."),
          values: z.array(z.string()).describe("What took effect."),
        }),
      ),
      sentence: z.string(),
    })
    .meta({
      id: "ValueExplained",
      description: "A condition on values, from what was sent to what is compared.",
    }),
);

export const COMPOUND_EXPLAINED = tied<CompoundExplained>()(
  z
    .object({
      sent: z.string(),
      canonical: z.string().describe("In CQL2, with its windows as they are written."),
      sentence: z.string(),
      contradictions: z
        .array(z.string())
        .describe("Why parts of it, or all of it, can keep nothing."),
    })
    .meta({
      id: "CompoundExplained",
      description: "A compound condition, as it came and as it was understood.",
    }),
);

export const SQL_VALUE = tied<SqlValue>()(
  z
    .union([z.string(), z.number(), z.bigint()])
    .nullable()
    .meta({ id: "SqlValue", description: "A value that may be bound to a prepared statement." }),
);

export const STATEMENT = tied<Statement>()(
  z.object({ text: z.string(), values: z.array(SQL_VALUE) }).meta({
    id: "Statement",
    description: "A finished statement: text with placeholders, and the values to bind, in order.",
  }),
);

export const NARROWING = tied<Narrowing>()(
  z
    .object({
      records: z.number().nullable(),
      steps: z.array(
        z.object({
          condition: z.string(),
          isFixed: z
            .literal(true)
            .describe("Whether it is of the listing's own filter.")
            .exactOptional(),
          alone: z.number().nullable().describe("Of all records, by this condition alone."),
          inTurn: z.number().nullable().describe("After this condition and all those before it."),
        }),
      ),
      without: z
        .record(
          z.string(),
          z.object({ blank: z.number().nullable(), unreadable: z.number().nullable() }),
        )
        .describe("For each column of a condition how many of its cells are no values."),
    })
    .meta({
      id: "Narrowing",
      description:
        "How many records there are, and how many each condition lets through; null for not counted.",
    }),
);

export const PLAN_STEP = tied<PlanStep>()(
  z
    .object({
      words: z.string(),
      records: z.number().describe("Records that it expects to read."),
      advice: z
        .string()
        .describe("What would serve better, where it reads far more than it needs.")
        .exactOptional(),
    })
    .meta({ id: "PlanStep", description: "One step of the database's plan." }),
);

export const NEIGHBOURS = tied<Neighbours>()(
  z
    .object({
      column: z.string(),
      edge: z.enum(["start", "end"]),
      at: z.string().describe("The edge on the wall clock of the listing's zone."),
      before: z
        .string()
        .nullable()
        .describe(
          "The last date before it, and the first at or after it; null where there is none.",
        ),
      after: z.string().nullable(),
    })
    .meta({ id: "Neighbours", description: "The dates nearest to one edge of a window." }),
);

export const EXPLANATION = tied<Explanation>()(
  z
    .object({
      sentence: z.string(),
      zone: z.string(),
      conditions: z.array(CONDITION_EXPLAINED),
      values: z.array(VALUE_EXPLAINED).describe("The conditions on numbers, strings and choices."),
      fixedFilter: COMPOUND_EXPLAINED.nullable().describe(
        "The filter that the listing sets for every caller; null for none.",
      ),
      compound: COMPOUND_EXPLAINED.nullable().describe(
        "The caller's compound condition, from what was sent to what it comes to; null for none.",
      ),
      names: z
        .record(z.string(), z.string())
        .describe("The columns of the statements, by their names in the database."),
      statements: z.object({
        page: STATEMENT.describe(
          "The first of the page's statements; the others go on through the window until it is full.",
        ),
        parts: z.number().describe("How many there are at most."),
        count: STATEMENT.nullable(),
      }),
      notices: z.array(RENDERED_NOTICE),
      narrowing: NARROWING,
      tables: z
        .object({ opened: z.number(), of: z.number() })
        .describe("For a source of several tables: how many were opened, of all that there are.")
        .exactOptional(),
      plan: z
        .object({ page: z.array(PLAN_STEP), count: z.array(PLAN_STEP) })
        .describe("How the database goes about it, in words."),
      neighbours: z
        .array(NEIGHBOURS)
        .describe("For each date condition the dates nearest to its edges."),
      empty: z.array(z.string()).describe("Why there is no record; nothing where there is one."),
    })
    .meta({
      id: "Explanation",
      description: "What was sent, how it was applied, and the statements that are run.",
    }),
);

export const RECORD_VERDICT = tied<RecordVerdict>()(
  z
    .object({
      id: z.union([z.string(), z.number()]),
      isIn: z.boolean().describe("Whether it satisfies all of them."),
      conditions: z.array(
        z.object({
          condition: z.string(),
          isMet: z.boolean(),
          values: z
            .record(z.string(), RECORD_VALUE)
            .describe(
              "What the record has in the columns that are compared; strings that cannot be read as they came.",
            ),
        }),
      ),
    })
    .meta({ id: "RecordVerdict", description: "One record against the conditions of a request." }),
);

export const WHY_ANSWER = tied<WhyAnswer>()(
  z
    .object({
      sentence: z.string().describe("What was searched."),
      reasons: z.array(z.string()).describe("Why there is no record; nothing where there is one."),
      narrowing: NARROWING,
      neighbours: z
        .array(NEIGHBOURS)
        .describe("For each date condition the dates nearest to its edges."),
      record: RECORD_VERDICT.describe(
        "The requested record, against each condition.",
      ).exactOptional(),
    })
    .meta({
      id: "WhyAnswer",
      description:
        "Why a request finds no records, and why one record is in or out: of what its caller may see alone.",
    }),
);
