import { CALLS, type CallName } from "@orisma/contract";
import {
  ISO_CALENDAR,
  UTC,
  answerWindow,
  epochMs,
  readValues,
  success,
  type Result,
  type WindowContext,
} from "@orisma/core/internal";
import { translationOf } from "../filters/index.js";
import type { DescribedCall } from "./described.js";

/** Where and when examples are understood. */
const EXAMPLE_CONTEXT: WindowContext = {
  asOf: epochMs(Date.UTC(2026, 10, 25, 9)),
  zone: UTC,
  calendar: ISO_CALENDAR,
};

/** What the calls that need no records really return for the examples of the contract. */
const ANSWERS: Readonly<Partial<Record<CallName, () => Result<unknown>>>> = {
  "POST /v1/windows/resolve": () => {
    const { body, example } = CALLS["POST /v1/windows/resolve"];
    return answerWindow(body.parse(example).window, EXAMPLE_CONTEXT);
  },
  "POST /v1/dates/read": () => {
    const { body, example } = CALLS["POST /v1/dates/read"];
    const { values, reading } = body.parse(example);
    const read = readValues(values, reading);
    return read.ok ? success({ results: read.value }) : read;
  },
  "POST /v1/filters/translate": () => {
    const { body, example } = CALLS["POST /v1/filters/translate"];
    return translationOf(body.parse(example), EXAMPLE_CONTEXT);
  },
};

/** The example of a call, if it has one. */
export function exampleOf({ method, path }: DescribedCall): DescribedCall["example"] {
  const name: CallName = `${method.toUpperCase() as "POST"} ${path as "/"}`;
  const answer = ANSWERS[name]?.();
  if (answer?.ok !== true) return undefined;
  return { sent: CALLS[name as "POST /v1/dates/read"].example, returned: answer.value };
}
