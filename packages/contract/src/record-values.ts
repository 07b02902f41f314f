import type { RecordAnswer, RecordValue, TotalAnswer } from "@orisma/core/internal";
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

export const TOTAL_ANSWER = tied<TotalAnswer>()(
  z.object({ total: z.number().nullable(), totalExact: z.boolean() }).meta({
    id: "TotalAnswer",
    description:
      "A count of records. `totalExact` is false where there are more than `total`, and where `total` is null: not counted, or not in time.",
  }),
);
