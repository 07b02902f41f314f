import type { Fault, FaultCode } from "./fault.js";
import { nearest } from "./nearest.js";
import type { FaultFacts } from "./registry.js";

/** A fault as it is sent: one entry of a problem document's `faults` (RFC 9457, section 3.2). */
export interface RenderedFault {
  readonly parameter?: string;
  readonly path?: string;
  readonly column?: string;
  readonly value?: string;
  readonly code: FaultCode;
  readonly message: string;
  readonly accepted?: string;
  readonly nearest?: string;
}

interface Prose {
  readonly message: string;
  readonly accepted?: string;
  readonly nearest?: string | null;
}

/** Longest value that is repeated to the caller, in UTF-16 units. */
const LONGEST_ECHO = 80;

const WRITTEN_DATE = "an ISO 8601 date such as 2025, 2025-02, 2025-W09, 2025-Q1 or 2025-02-28";

const WRITTEN_WINDOW =
  "a window such as 2025-02, 2025-02-01/2025-02-28, month-1, P6W/now, today/.. or year;BYMONTH=4..6";

const WRITTEN_PART = `${WRITTEN_DATE}, or one that moves such as today, month-1, day-7, now`;

function limitsInWords(earliest: string | null, latest: string | null): string {
  if (earliest === null) return `dates up to the end of ${latest ?? ".."}`;
  return latest === null ? `dates from ${earliest} on` : `dates from ${earliest} to ${latest}`;
}

/** Why a cursor has no place any more. */
const CURSOR_ENDED: Readonly<Record<FaultFacts["cursor.ended"]["by"], string>> = {
  version: "the listing has been declared anew since",
  source: "its source was deleted, and another has its name",
  ids: "the records have other ids since, because they were replaced without a key column, or by another one",
  order: "the column that it is ordered by holds another type since",
};

const PROSE: { [Code in FaultCode]: (facts: FaultFacts[Code]) => Prose } = {
  "date.form": ({ text }) => ({
    message: `“${cut(text)}” is not a date in a form that is read here`,
    accepted: WRITTEN_DATE,
  }),
  "date.ambiguous": ({ text, dayFirst, monthFirst }) => ({
    message:
      `“${cut(text)}” can be read two ways and is not guessed at: ` +
      `${dayFirst} if the day comes first, ${monthFirst} if the month does`,
    accepted: WRITTEN_DATE,
  }),
  "date.order": ({ text, meant }) => ({
    message: `“${cut(text)}” is not written as ISO 8601; if ${meant} is meant, send that`,
    accepted: WRITTEN_DATE,
    nearest: meant,
  }),
  "date.impossible": ({ text, reason }) => ({
    message: `“${cut(text)}” is not a date: ${reason}`,
    accepted: WRITTEN_DATE,
  }),
  "date.timeRefused": ({ text, day }) => ({
    message: `“${cut(text)}” has a time of day, and this takes whole days`,
    accepted: WRITTEN_DATE,
    nearest: day,
  }),
  "date.offsetRefused": ({ text }) => ({
    message: `“${cut(text)}” has a UTC offset without a time of day`,
    accepted: WRITTEN_DATE,
  }),
  "date.pattern": ({ text, patterns }) => ({
    message: `“${cut(text)}” does not fit ${patterns.join(" or ")}`,
    accepted: patterns.join(", "),
  }),
  "date.name": ({ text, name, known }) => ({
    message: `“${cut(name)}” in “${cut(text)}” is no name that the reading's locales have`,
    nearest: nearest(name, known),
  }),
  "date.trailing": ({ text, rest }) => ({
    message: `“${cut(text)}” goes on after the date, with “${cut(rest)}”`,
  }),
  "date.spelling": ({ text, meant }) => ({
    message: `“${cut(text)}” is not spelled as the pattern writes it, “${cut(meant)}”`,
    accepted: meant,
  }),
  "date.number": ({ text, unit }) => ({
    message: `“${cut(text)}” is not a number of ${unit} that lies in the years 0001 to 9999`,
    accepted: `a number of ${unit}`,
  }),
  "date.type": ({ text, wanted }) => ({
    message: `${cut(text)} is the wrong kind of value: the reading wants ${wanted}`,
    accepted: wanted,
  }),
  "date.timeOnly": ({ text }) => ({
    message: `${cut(text)} is a time of day without a day`,
    accepted: "a day number of 1 or more",
  }),
  "date.skipped": ({ text, zone }) => ({
    message: `“${cut(text)}” never happens in ${zone}: the clocks jump over it`,
  }),
  "storage.reading": ({ column, reason, instead }) => ({
    message: `column “${column}” cannot be asked in a database by this reading: ${reason}; say ${instead} for it`,
    accepted: instead,
  }),
  "attach.host": ({ allowed }) => ({
    message:
      allowed.length === 0
        ? "no database may be attached here: whoever runs the service lists the places that may, in ORISMA_ATTACHABLE"
        : "this place is not one from which databases may be attached",
    ...(allowed.length === 0 ? {} : { accepted: allowed.join(", ") }),
  }),
  "attach.own": () => ({ message: "this is the service's own database, which is not attached" }),
  "attach.server": ({ version }) => ({
    message: `the server calls itself ${cut(version)}`,
    accepted: "MariaDB, with which every answer is proved",
  }),
  "attach.writer": ({ rights }) => ({
    message: `the account could change something: it has ${rights.join(", ")}`,
    accepted: "an account that may only SELECT, or allowWriter",
  }),
  "attach.pattern": ({ table, reason }) => ({
    message: `${cut(table)} is no pattern of tables: ${reason}`,
    accepted: "a name such as gauges_{yyyyMMdd}",
  }),
  "source.stacking": ({ name, reason }) => ({
    message: `${cut(name)} cannot be one of several sources that make one: ${reason}`,
    accepted: "two or more sources with columns of one name and one meaning",
  }),
  "attach.key": ({ table, reason, keys }) => ({
    message: `records of ${table} need a key: ${reason}`,
    accepted:
      keys.length === 0
        ? "a column without blanks of which every value is another"
        : keys.join(" or "),
  }),
  "locale.unknown": ({ locale, known }) => ({
    message: `there are no names of months and days for “${cut(locale)}” here`,
    accepted: known.join(", "),
    nearest: nearest(locale, known),
  }),
  "number.form": ({ text, type }) => ({
    message: `“${cut(text)}” is not ${type === "integer" ? "a whole number" : "a number"}`,
    accepted:
      type === "integer" ? "digits, with - before a negative" : "digits with a decimal point",
  }),
  "window.syntax": ({ at, text, reason }) => ({
    message: `at ${at}: “${cut(text)}” ${reason}`,
    accepted: WRITTEN_WINDOW,
  }),
  "window.form": ({ at, text, instead }) => ({
    message: `at ${at}: “${cut(text)}” is not written so; ${instead}`,
    accepted: WRITTEN_WINDOW,
  }),
  "window.word": ({ at, word, what, known }) => {
    const meant = nearest(word, known);
    const hint = meant === null ? "" : `; did you mean ${meant}?`;
    return {
      message: `at ${at}: “${cut(word)}” is not ${what}${hint}`,
      accepted:
        (what === "a unit" ? "an ISO 8601 date such as 2025-02-28, " : "") + known.join(", "),
      nearest: meant ?? null,
    };
  },
  "window.number": ({ at, text, accepted }) => ({
    message: `at ${at}: “${cut(text)}” cannot be: ${accepted}`,
    accepted,
  }),
  "window.tooFar": ({ text }) => ({
    message: `“${cut(text)}” leads out of the years 0001 to 9999`,
    accepted: "a window within the years 0001 to 9999",
  }),
  "window.tooLong": ({ signs, most }) => ({
    message: `a window of ${signs} signs is not read`,
    accepted: `${most} signs at most`,
  }),
  "window.oneDate": ({ text }) => ({
    message: `“${cut(text)}” has more than one end, and this takes one date`,
    accepted: WRITTEN_PART,
  }),
  "window.longerThan": ({ text, longest }) => ({
    message: `${cut(text)} is longer than ${longest}, which is the most that is answered at once here`,
    accepted: `a stretch of ${longest} at most`,
  }),
  "window.openEnd": ({ longest }) => ({
    message: `a stretch with an open end has no length, and at most ${longest} is answered at once here`,
    accepted: `both ends, ${longest} apart at most`,
  }),
  "window.outOfLimits": ({ text, earliest, latest }) => ({
    message: `“${cut(text)}” lies outside what is answered here`,
    accepted: limitsInWords(earliest, latest),
  }),
  "ladder.untiled": ({ day, kind, between }) => ({
    message:
      kind === "empty"
        ? `asked on ${day}, “${between.join()}” has nothing in it`
        : `asked on ${day}, there is ${kind === "gap" ? "a gap" : "an overlap"} between ${between.map((name) => `“${name}”`).join(" and ")}`,
    accepted: "windows that lie side by side on every day, without gap or overlap",
  }),
  "rung.unknown": ({ name, known }) => ({
    message: `there is no window named “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "field.value": ({ name, accepted, fits }) => ({
    message:
      `the value is no ${name}` +
      (fits === null ? "" : `, but could be a ${fits}: are the two exchanged?`),
    accepted,
  }),
  "field.missing": ({ name, needs }) => ({
    message: `“${name}” says nothing without “${needs}”`,
    accepted: `“${needs}” beside it`,
  }),
  "calendar.setting": ({ name, accepted }) => ({
    message: `the calendar setting “${name}” cannot be so`,
    accepted,
  }),
  "window.reversed": ({ first, second }) => ({
    message: `the end ${second} is before the start ${first}`,
    accepted: "a start that is not after the end",
  }),
  "parameter.unknown": ({ name, known }) => ({
    message: `there is no parameter “${cut(name)}” here`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "parameter.repeated": ({ name, times }) => ({
    message: `“${cut(name)}” was sent ${times} times and takes one value`,
    accepted: "one value",
  }),
  "parameter.notAllowed": ({ name }) => ({
    message: `“${cut(name)}” is not open to callers of this listing`,
  }),
  "parameter.column": ({ parameter, column, type, accepted }) => ({
    message: `a parameter of the type ${parameter} is no use for “${cut(column)}”, which holds ${type}`,
    accepted: `a column of ${accepted.join(" or ")}`,
  }),
  "parameter.required": ({ name }) => ({
    message: `“${cut(name)}” must be given`,
  }),
  "parameter.list": ({ text, separate }) => ({
    message: `“${cut(text)}” is several values in one: repeat the parameter`,
    accepted: cut(separate),
  }),
  "parameter.choice": ({ text, values, meant }) => ({
    message: `“${cut(text)}” is none of the values that can be chosen`,
    accepted: values.join(", "),
    nearest: meant ?? null,
  }),
  "parameter.unused": ({ name, reason }) => ({
    message: `“${cut(name)}” would have no effect: ${reason}`,
  }),
  "number.scale": ({ text, scale }) => ({
    message: `“${cut(text)}” has more than ${scale} decimals`,
    accepted: `a number of ${scale} decimals at most`,
  }),
  "range.form": ({ text }) => ({
    message: `“${cut(text)}” is no range of numbers`,
    accepted: "A/B with both ends in, such as 100/250, 100/.. or ../250",
  }),
  "range.reversed": ({ first, second }) => ({
    message: `${cut(first)} is more than ${cut(second)}`,
    accepted: "the smaller number first",
  }),
  "unit.form": ({ column, type }) => ({
    message: `“${cut(column)}” holds ${type}, and has no unit`,
    accepted: "a column of numbers, and a scale from 1 to 9",
  }),
  "parameter.value": ({ accepted, nearest: meant }) => ({
    message: `the value is not accepted`,
    accepted,
    ...(meant === undefined ? {} : { nearest: meant }),
  }),
  "path.form": ({ text }) => ({
    message: `“${cut(text)}” is no path into a document`,
    accepted: "$, then .name, ['name'], [0] or [*], such as $.stops[*]",
  }),
  "order.perValue": ({ column }) => ({
    message: `a record can have several of ${cut(column)}, so none of them can order it`,
    accepted: "another column, or rows=values",
  }),
  "source.inside": ({ name, reason }) => ({
    message: `the values inside ${cut(name)} cannot be a source: ${reason}`,
    accepted: "a column of JSON texts of a source that is one table",
  }),
  "order.repeated": ({ column }) => ({
    message: `“${cut(column)}” orders the records already`,
  }),
  "order.tooMany": ({ most }) => ({
    message: `records are put in order by ${most} columns at most`,
  }),
  "order.severalTables": ({ column }) => ({
    message: "records of several tables are put in order by one column",
    accepted: `${column} alone`,
  }),
  "order.unknown": ({ name, allowed }) => ({
    message: `records cannot be put in order by “${cut(name)}” here`,
    accepted: allowed.flatMap((column) => [column, `-${column}`]).join(", "),
    nearest: nearestOrder(name, allowed),
  }),
  "page.size": ({ least, most }) => ({
    message: `a page holds ${least} to ${most} records`,
    accepted: `a whole number from ${least} to ${most}`,
  }),
  "cursor.unreadable": () => ({
    message: "the cursor is not one that this service gave out to this key for this listing",
    accepted: "a link of an earlier answer, or no cursor for the first page",
  }),
  "cursor.ended": ({ by }) => ({
    message: `the cursor has no place to go on from: ${CURSOR_ENDED[by]}`,
    accepted: "no cursor, for the first page",
  }),
  "cursor.otherQuery": () => ({
    message: "the cursor belongs to a page of other parameters or another order",
    accepted: "the parameters that the cursor came with, or no cursor for the first page",
  }),
  "zone.unknown": ({ zone }) => ({
    message: `“${cut(zone)}” is not a time zone that is known here`,
    accepted: "a name of the IANA time zone database, such as Europe/London, or UTC",
    nearest: nearest(zone, [...Intl.supportedValuesOf("timeZone"), "UTC"]),
  }),
  "column.unknown": ({ name, known }) => ({
    message: `there is no column “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "column.notDate": ({ name, type }) => ({
    message: `column “${name}” holds ${type}, not dates, so a comparison with a date could never hold`,
    accepted: "a column with a date reading",
  }),
  "column.finerThanDay": ({ name, text }) => ({
    message: `column “${name}” holds days, and ${text} lies inside a day`,
    accepted: "whole days",
  }),
  "column.notNumber": ({ name, type }) => ({
    message: `column “${cut(name)}” holds ${type}, not numbers, so a comparison with a number could never hold`,
    accepted: "a column of numbers",
  }),
  "column.notText": ({ name, type }) => ({
    message: `column “${cut(name)}” holds ${type}, not text, so a comparison with a text could never hold`,
    accepted: type === "date" ? "a date, such as DATE('2025-02-28')" : "a column of text",
  }),
  "column.otherType": ({ first, second, firstType, secondType }) => ({
    message:
      `column “${cut(first)}” holds ${firstType} and “${cut(second)}” ${secondType}, ` +
      "so a comparison of the two could never hold",
    accepted: "two columns of one type",
  }),
  "column.noState": ({ name }) => ({
    message: `column “${cut(name)}” holds text, which can always be read`,
    accepted: "a column of dates or numbers",
  }),
  "filter.tooLarge": ({ what, most }) => ({
    message: `the filter has too many ${what}`,
    accepted: `${most} ${what} at most`,
  }),
  "filter.syntax": ({ at, text, reason }) => ({
    message: at === 0 ? `“${cut(text)}” ${reason}` : `at ${at}: “${cut(text)}” ${reason}`,
    accepted: "a condition in CQL2, such as raised >= DATE('2025-02-01') AND cost < 500",
  }),
  "filter.word": ({ at, word, what, known }) => {
    const meant = nearest(word, known);
    const place = at === 0 ? "" : `at ${at}: `;
    const hint = meant === null ? "" : `; did you mean ${meant}?`;
    return {
      message: `${place}“${cut(word)}” is not ${what}${hint}`,
      accepted: known.join(", "),
      nearest: meant ?? null,
    };
  },
  "filter.value": ({ text, accepted }) => ({
    message: `“${cut(text)}” is not a value that can be compared here`,
    accepted,
  }),
  "reading.pattern": ({ pattern, reason, meant }) => ({
    message: `“${cut(pattern)}” is not a date pattern: ${reason}`,
    accepted: "the date field letters of Unicode UTS #35, such as dd/MM/yyyy",
    nearest: meant ?? null,
  }),
  "name.form": ({ name }) => ({
    message: `“${cut(name)}” cannot be a name`,
    accepted: "a letter, then letters, digits, - or _, 64 at most",
  }),
  "name.taken": ({ name }) => ({ message: `the name “${cut(name)}” is taken` }),
  "name.reserved": ({ name, reserved }) => ({
    message: `“${cut(name)}” is a name that Orisma keeps for itself`,
    accepted: `any other name than ${reserved.join(", ")}`,
  }),
  "name.unknown": ({ what, name, known }) => ({
    message: `there is no ${what} “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "parameter.conflict": ({ first, second }) => ({
    message: `“${first}” and “${second}” speak of one condition and say different things`,
  }),
  "column.constant": ({ column }) => ({
    message: `${cut(column)} says where a record lies, and is not compared with other columns`,
    accepted: "windows, values, blank or not",
  }),
  "column.notChosen": ({ name, type }) => ({
    message: `“${cut(name)}” holds ${type}, which are not offered one by one`,
    accepted: "a column of texts, numbers or yes and no; the timeline for dates",
  }),
  "column.notBoolean": ({ name, type }) => ({
    message:
      type === "boolean"
        ? `column “${cut(name)}” holds yes or no, and is compared with nothing else`
        : `column “${cut(name)}” holds ${type}, and is compared with no yes or no`,
    accepted: type === "boolean" ? "TRUE or FALSE" : "a column of yes and no",
  }),
  "boolean.form": ({ text }) => ({
    message: `“${cut(text)}” is neither yes nor no`,
    accepted: "true or false, yes or no, y or n, t or f, on or off, 1 or 0",
  }),
  "column.notOrdered": ({ name, type }) => ({
    message: `“${name}” holds ${type}, of which none is less than another`,
    accepted: "= or <>, or a column of dates or numbers",
  }),
  "parameter.precision": ({ column }) => ({
    message: `column “${column}” holds whole days, so a parameter on it cannot take moments`,
    accepted: "the type “date”",
  }),
  "parameter.comparison": ({ type, accepted }) => ({
    message: `a parameter of the type “${type}” cannot be compared so`,
    accepted: accepted.join(", "),
  }),
  "parameter.setting": ({ name, reason }) => ({ message: `“${name}” cannot be so: ${reason}` }),
  "pair.incomplete": ({ pair }) => ({
    message: `the pair “${pair}” needs one parameter with “from” or “after” and one with “to” or “before”, on one column`,
  }),
  "document.shape": ({ reason, nearest: meant }) => ({
    message: reason,
    ...(meant === undefined ? {} : { nearest: meant }),
  }),
  "file.type": ({ found }) => ({
    message: `the file is ${found}, not a table of records`,
    accepted: "delimited text such as CSV, NDJSON, a JSON array of objects, XLSX, ODS",
  }),
  "file.encoding": ({ reason, known }) => ({ message: reason, accepted: known.join(", ") }),
  "file.broken": ({ line, reason }) => ({
    message: line === null ? reason : `line ${line}: ${reason}`,
  }),
  "file.headings": ({ reason }) => ({ message: reason }),
  "file.sheet": ({ reason, sheets }) => ({ message: reason, accepted: sheets.join(", ") }),
  "file.limit": ({ reason, most }) => ({ message: reason, accepted: most }),
  "listing.breaks": ({ listing, reason }) => ({
    message: `${listing} would no longer be served: ${reason}`,
    accepted: "a change that the listing fits; or force (--force) to make it all the same",
  }),
  "file.same": ({ load, takenAt }) => ({
    message: `this very file was taken already, as load ${load} at ${takenAt}`,
    accepted: "another file, or again=yes to take it once more",
  }),
  "row.cells": ({ found, expected }) => ({
    message: `${found} ${found === 1 ? "cell" : "cells"} where there are ${expected} headings`,
  }),
  "row.place": ({ reason }) => ({ message: reason }),
  "row.key": ({ reason }) => ({ message: reason }),
  "row.form": ({ reason }) => ({ message: reason }),
};

/** Puts a fault into words: what, where, what came, what is accepted, the nearest right name. */
export function renderFault(found: Fault): RenderedFault {
  const prose = (PROSE[found.code] as (facts: Fault["facts"]) => Prose)(found.facts);
  return {
    ...(found.parameter === undefined ? {} : { parameter: cut(found.parameter) }),
    ...(found.path === undefined ? {} : { path: found.path }),
    ...(found.column === undefined ? {} : { column: cut(found.column) }),
    ...(found.value === undefined ? {} : { value: cut(found.value) }),
    code: found.code,
    message: prose.message,
    ...(prose.accepted === undefined ? {} : { accepted: prose.accepted }),
    ...(prose.nearest == null ? {} : { nearest: prose.nearest }),
  };
}

/** Every code there is, in the order of the registry. */
export const FAULT_CODES = Object.keys(PROSE) as readonly FaultCode[];

function nearestOrder(name: string, allowed: readonly string[]): string | null {
  const found = nearest(name.replace(/^-/, ""), allowed);
  return found !== null && name.startsWith("-") ? `-${found}` : found;
}

function cut(text: string): string {
  return text.length <= LONGEST_ECHO ? text : `${text.slice(0, LONGEST_ECHO - 1)}…`;
}
