import {
  compileDateForm,
  dateInWords,
  intervalInWords,
  readGiven,
  renderFault,
  resolvePart,
  resolveWindow,
  windowInWords,
  type Fault,
  type DateParameter,
  type Part,
  type WindowContext,
} from "@orisma/core/internal";

/** What a value would mean, in words, or what is wrong with it. */
export interface Echo {
  readonly text: string;
  readonly isFault: boolean;
}

/** A typed value in long form, as one types; what was left empty has nothing to say. */
export function echoOf(
  value: string,
  { name, type, accepts }: DateParameter,
  context: WindowContext,
): Echo {
  const form = accepts === undefined ? null : compileDateForm(accepts);
  const given = readGiven(value, {
    parameter: name,
    type,
    ...(form?.ok === true ? { form: form.value } : {}),
  });
  if (!given.ok) return faultEcho(given.faults);
  switch (given.value.kind) {
    case "notGiven":
    case "open":
      return { text: "", isFault: false };
    case "part":
      return partEcho(given.value.part, context);
    case "window": {
      const resolved = resolveWindow(given.value.window, context);
      if (!resolved.ok) return faultEcho(resolved.faults);
      return {
        text: windowInWords(given.value.window, resolved.value, context.zone),
        isFault: false,
      };
    }
  }
}

function partEcho(part: Part, context: WindowContext): Echo {
  if (part.base.kind === "written" && part.shifts.length === 0) {
    return { text: dateInWords(part.base.written), isFault: false };
  }
  const resolved = resolvePart(part, context);
  if (!resolved.ok) return faultEcho(resolved.faults);
  const { span } = resolved.value;
  if (span === null) return { text: "nothing today", isFault: false };
  const isMoment = span.start.instant === span.end.instant;
  return { text: isMoment ? "the time of the request" : intervalInWords(span), isFault: false };
}

function faultEcho([first]: readonly Fault[]): Echo {
  return { text: first === undefined ? "" : renderFault(first).message, isFault: true };
}
