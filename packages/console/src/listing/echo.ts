import {
  compileDateForm,
  dateInWords,
  intervalInWords,
  meantBy,
  readGiven,
  renderFault,
  resolvePart,
  resolveWindow,
  windowInWords,
  type Fault,
  type DateParameter,
  type Given,
  type Part,
  type Result,
  type WindowContext,
} from "@orisma/core/internal";

/** What a value would mean, in words, or what is wrong with it. */
export interface Echo {
  readonly text: string;
  readonly isFault: boolean;
  /** What it can mean, where that is several things: each as the value that says so, and in words. */
  readonly readings?: readonly { readonly value: string; readonly text: string }[];
}

/** What is sent of a typed value: of a phrase with one meaning the window that it means. */
export function valueToSend(
  value: string,
  parameter: DateParameter,
  context: WindowContext,
): string {
  if (readTyped(value, parameter).ok) return value;
  const [meant, ...others] = meantBy(value, wantedOf(parameter), context);
  return meant === undefined || others.length > 0 ? value : meant;
}

function wantedOf({ type }: DateParameter): "date" | "window" {
  return type === "window" ? "window" : "date";
}

/** A typed value in long form, as one types; what was left empty has nothing to say. */
export function echoOf(value: string, parameter: DateParameter, context: WindowContext): Echo {
  const given = readTyped(value, parameter);
  if (!given.ok) return phraseEcho(value, parameter, context) ?? faultEcho(given.faults);
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

function readTyped(value: string, { name, type, accepts }: DateParameter): Result<Given> {
  const form = accepts === undefined ? null : compileDateForm(accepts);
  return readGiven(value, {
    parameter: name,
    type,
    ...(form?.ok === true ? { form: form.value } : {}),
  });
}

/** What a phrase means; null for what is none. */
function phraseEcho(value: string, parameter: DateParameter, context: WindowContext): Echo | null {
  const readings = meantBy(value, wantedOf(parameter), context).map((each) => ({
    value: each,
    text: echoOf(each, parameter, context).text,
  }));
  const [only, ...others] = readings;
  if (only === undefined) return null;
  if (others.length > 0) return { text: "This can mean:", isFault: true, readings };
  return { text: `${only.value}: ${only.text}`, isFault: false };
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
