/** What each notice carries: something that the answer points out, and no failure. */
export interface NoticeFacts {
  "window.swapped": { readonly first: string; readonly second: string };
  "range.swapped": { readonly first: string; readonly second: string };
  "window.empty": { readonly start: string; readonly end: string };
  "window.notBegun": { readonly start: string };
  "window.lacksDay": { readonly text: string; readonly unit: string; readonly days: number };
  "window.dayOff": { readonly day: string };
  "window.noLength": { readonly text: string };
  "window.skippedDay": { readonly day: string; readonly zone: string };
  "window.noMatch": { readonly parts: string };
  "window.cut": { readonly most: number };
  "value.dashes": { readonly parameter: string };
  "edge.repeated": {
    readonly wall: string;
    readonly zone: string;
    readonly taken: "earlier" | "later";
  };
  "edge.skipped": { readonly wall: string; readonly zone: string; readonly instant: string };
  "number.unit": {
    readonly text: string;
    readonly read: string;
    readonly unit: string;
    readonly meant: string;
  };
  "value.list": { readonly parameter: string; readonly text: string; readonly separate: string };
  /** A default that was set from outside the declaration; the instant is in ISO 8601. */
  "default.overridden": {
    readonly parameter: string;
    readonly value: string;
    readonly by: string;
    readonly until: string | null;
    readonly reason: string;
  };
  "parameter.ignored": { readonly names: readonly string[] };
  "days.notCounted": { readonly most: number };
  "total.notInTime": { readonly seconds: number };
  "resume.undated": {
    readonly column: string;
    readonly records: number;
    readonly atLeast: boolean;
  };
  "serial.shifted": { readonly serial: number; readonly shown: string };
  "edge.midnight": { readonly parameter: string; readonly day: string };
  "value.trimmed": { readonly parameter: string };
}

/** A stable code of a notice. */
export type NoticeCode = keyof NoticeFacts;

/** A notice as data. */
export type Notice = {
  [Code in NoticeCode]: { readonly code: Code; readonly facts: NoticeFacts[Code] };
}[NoticeCode];

/** A notice as it is sent. */
export interface RenderedNotice {
  readonly code: NoticeCode;
  readonly message: string;
}

/** Makes a notice of one code with the facts that the code demands. */
export function notice<Code extends NoticeCode>(code: Code, facts: NoticeFacts[Code]): Notice {
  return { code, facts } as Notice;
}

const PROSE: { [Code in NoticeCode]: (facts: NoticeFacts[Code]) => string } = {
  "window.swapped": ({ first, second }) =>
    `the dates were in reverse order and were swapped: from ${first} to ${second}`,
  "range.swapped": ({ first, second }) =>
    `the numbers were in reverse order and were swapped: from ${first} to ${second}`,
  "window.empty": ({ start, end }) =>
    `this window is empty: it starts at ${start} and ends before ${end}`,
  "default.overridden": ({ parameter, value, by, until, reason }) =>
    `${parameter} is “${value}” by default${until === null ? "" : ` until ${until}`}, set by ${by}: ${reason}`,
  "window.notBegun": ({ start }) => `this window has not started: it starts at ${start}`,
  "window.lacksDay": ({ text, unit, days }) => `“${text}” is empty: ${unit} has ${days} days`,
  "window.dayOff": ({ day }) => `${day} is not a working day, so this window is empty`,
  "window.noLength": ({ text }) => `“${text}” is empty: it has no length`,
  "window.skippedDay": ({ day, zone }) =>
    `${day} does not exist in ${zone}, where the clocks skipped it`,
  "window.noMatch": ({ parts }) => `this window is empty: no day in it is ${parts}`,
  "window.cut": ({ most }) => `only the first ${most} intervals are listed`,
  "value.dashes": ({ parameter }) => `dashes in the value of “${parameter}” were read as hyphens`,
  "edge.repeated": ({ wall, zone, taken }) =>
    `${wall} happens twice in ${zone}; the ${taken} one is used`,
  "edge.skipped": ({ wall, zone, instant }) =>
    `${wall} does not exist in ${zone}, where the clocks skip it; ${instant} is used`,
  "number.unit": ({ text, read, unit, meant }) =>
    `${text} was read as ${read}; as a number of ${unit} it would be ${meant}`,
  "value.list": ({ parameter, text, separate }) =>
    `“${text}” is one value of “${parameter}”. To send several, repeat the parameter: ${separate}`,
  "parameter.ignored": ({ names }) =>
    `unknown parameters were ignored: ${names.map((name) => `“${name}”`).join(", ")}`,
  "days.notCounted": ({ most }) =>
    `The days with records were not counted: they lie in more than ${most} days. Ask for a shorter window.`,
  "total.notInTime": ({ seconds }) =>
    `The records were not counted: counting took longer than ${seconds} seconds.`,
  "resume.undated": ({ column, records, atLeast }) =>
    `${atLeast ? "more than " : ""}${records} record${records === 1 ? "" : "s"} without a time in ${column} ${records === 1 ? "is" : "are"} never returned by resume`,
  "serial.shifted": ({ serial, shown }) => `for ${serial} a spreadsheet shows ${shown}`,
  "edge.midnight": ({ parameter, day }) =>
    `“${parameter}” ends at the start of ${day}; to include the day, send ${day}`,
  "value.trimmed": ({ parameter }) => `white space around the value of “${parameter}” was removed`,
};

export const NOTICE_CODES = Object.keys(PROSE) as readonly NoticeCode[];

/** Puts a notice into words. */
export function renderNotice(returned: Notice): RenderedNotice {
  const prose = PROSE[returned.code] as (facts: Notice["facts"]) => string;
  return { code: returned.code, message: prose(returned.facts) };
}
