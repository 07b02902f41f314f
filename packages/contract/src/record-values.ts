import type { RecordAnswer, RecordValue, TotalAnswer, TotalIs } from "@orisma/core/internal";
import { z } from "zod";
import { tied } from "./schema.js";

export const RECORD_VALUE = tied<RecordValue>()(
  z
    .union([z.string(), z.number(), z.boolean()])
    .nullable()
    .meta({ id: "RecordValue", description: "A value of a record, as it is sent." }),
);

export const RECORD_ANSWER = tied<RecordAnswer>()(
  z
    .object({ id: z.union([z.string(), z.number()]) })
    .catchall(RECORD_VALUE)
    .meta({
      id: "RecordAnswer",
      description: "A record as it is sent: its id, and its columns by name.",
    }),
);

export const TOTAL_IS = tied<TotalIs>()(
  z
    .enum(["exact", "atLeast", "notCounted"])
    .meta({ id: "TotalIs", description: "How far a total can be trusted." }),
);

export const TOTAL_ANSWER = tied<TotalAnswer>()(
  z.object({ total: z.number().nullable(), totalIs: TOTAL_IS }).meta({
    id: "TotalAnswer",
    description: "A count of records; `total` is null where `totalIs` is `notCounted`.",
  }),
);
