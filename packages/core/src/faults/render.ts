import type { Fault, FaultCode } from "./fault.js";
import { nearest, nearestName } from "./nearest.js";
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
  /** What was probably meant: one, or each of several readings. */
  readonly nearest?: readonly string[];
}

interface Prose {
  readonly message: string;
  readonly accepted?: string;
  readonly nearest?: string | readonly string[] | null;
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

/** Of many, how many are named. */
const MAX_NAMED = 5;

function named(all: readonly string[]): string {
  if (all.length <= MAX_NAMED) return all.join(", ");
  return `${all.slice(0, MAX_NAMED).join(", ")} and ${all.length - MAX_NAMED} more`;
}

/** Why a cursor has no place any more. */
const CURSOR_ENDED: Readonly<Record<FaultFacts["cursor.ended"]["by"], string>> = {
  version: "the listing has been declared again since",
  source: "its source was deleted, and another has its name",
  ids: "the records have other ids since, because they were replaced without a key column, or by another one",
  order: "the column that it is ordered by holds another type since",
};

/** What is wrong with a form of numbers. */
const NUMBER_WRITTEN: Readonly<
  Record<FaultFacts["number.written"]["reason"], { message: string; accepted: string }>
> = {
  separators: {
    message: "the same character cannot stand before the decimals and between groups of digits",
    accepted: "two different characters, such as , and .",
  },
  unit: {
    message: "a unit has digits or signs, is blank or is too long",
    accepted: "a unit without digits, of 12 characters at most, such as €, kg or %",
  },
  units: { message: "there are too many units", accepted: "20 units at most" },
};

/** Why there is nothing to resume from any more. */
const RESUME_ENDED: Readonly<Record<FaultFacts["resume.ended"]["by"], string>> = {
  source: "its source was deleted, and another has its name",
  ids: CURSOR_ENDED.ids,
  backup: "the service was restored to a time before it",
  filter: "the parameters, or the filter of the listing, are others than those it came with",
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
    message:
      patterns.length > MAX_NAMED
        ? `“${cut(text)}” fits none of the ${patterns.length} patterns`
        : `“${cut(text)}” does not fit ${patterns.join(" or ")}`,
    accepted: named(patterns),
  }),
  "date.name": ({ text, name, known }) => ({
    message: `“${cut(name)}” in “${cut(text)}” is not a name in the locales of the reading`,
    nearest: nearest(name, known),
  }),
  "date.trailing": ({ text, rest }) => ({
    message: `“${cut(text)}” has more after the date: “${cut(rest)}”`,
  }),
  "date.spelling": ({ text, meant }) => ({
    message: `“${cut(text)}” is not spelled as the pattern requires: “${cut(meant)}”`,
    accepted: meant,
  }),
  "date.number": ({ text, unit }) => ({
    message: `“${cut(text)}” is not a number of ${unit} within the years 0001 to 9999`,
    accepted: `a number of ${unit}`,
  }),
  "date.type": ({ text, wanted }) => ({
    message: `${cut(text)} has the wrong type: the reading requires ${wanted}`,
    accepted: wanted,
  }),
  "date.timeOnly": ({ text }) => ({
    message: `${cut(text)} is a time of day without a day`,
    accepted: "a day number of 1 or more",
  }),
  "date.skipped": ({ text, zone }) => ({
    message: `“${cut(text)}” does not exist in ${zone}: the clocks skip it`,
  }),
  "storage.reading": ({ column, reason, instead }) => ({
    message: `column “${column}” cannot be filtered in a database under this reading: ${reason}; use ${instead} instead`,
    accepted: instead,
  }),
  "attach.host": ({ allowed }) => ({
    message:
      allowed.length === 0
        ? "no database may be attached here: the operator of the service lists allowed servers in ORISMA_ATTACHABLE"
        : "databases may not be attached from this server",
    ...(allowed.length === 0 ? {} : { accepted: allowed.join(", ") }),
  }),
  "attach.own": () => ({ message: "this is the service's own database, which cannot be attached" }),
  "attach.server": ({ version }) => ({
    message: `the server is ${cut(version)}`,
    accepted: "MariaDB",
  }),
  "attach.writer": ({ rights }) => ({
    message: `the account can write: it has ${rights.join(", ")}`,
    accepted: "an account that may only SELECT in that database, or allowWriter",
  }),
  "attach.pattern": ({ table, reason }) => ({
    message: `${cut(table)} is not a pattern of tables: ${reason}`,
    accepted: "a name such as gauges_{yyyyMMdd}",
  }),
  "source.combine": ({ name, reason }) => ({
    message: `${cut(name)} cannot be combined: ${reason}`,
    accepted: "two sources or more with the same columns",
  }),
  "attach.key": ({ table, reason, keys }) => ({
    message: `records of ${table} need a key: ${reason}`,
    accepted: keys.length === 0 ? "a column of unique values without blanks" : keys.join(" or "),
  }),
  "locale.unknown": ({ locale, known }) => ({
    message: `the locale “${cut(locale)}” has no names of months and days here`,
    accepted: `a language code of BCP 47, such as ${known.slice(0, 8).join(", ")}`,
    nearest: nearest(locale, known),
  }),
  "number.written": ({ reason }) => NUMBER_WRITTEN[reason],
  "number.example": ({ text, type }) => ({
    message: `“${cut(text)}” does not say how numbers are written`,
    accepted:
      type === "decimal"
        ? "a number with thousands and decimals, such as 1.234,56 or 1 234.56 €"
        : "a whole number with thousands, such as 1.234 or 1 234 km",
  }),
  "boolean.words": ({ both }) => ({
    message:
      both === null
        ? "yes and no each require a word"
        : `“${cut(both)}” cannot mean both yes and no`,
    accepted: "one or more words for each, such as ja and nein",
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
    message: `at ${at}: “${cut(text)}” is not written like that; ${instead}`,
    accepted: WRITTEN_WINDOW,
  }),
  "window.word": ({ at, word, what, known }) => {
    const meant = nearestName(word, known);
    const hint = meant === null ? "" : `; did you mean ${meant}?`;
    return {
      message: `at ${at}: “${cut(word)}” is not ${what}${hint}`,
      accepted:
        (what === "a unit" ? "an ISO 8601 date such as 2025-02-28, " : "") + known.join(", "),
      nearest: meant ?? null,
    };
  },
  "window.number": ({ at, text, accepted }) => ({
    message: `at ${at}: “${cut(text)}” is invalid: ${accepted}`,
    accepted,
  }),
  "window.tooFar": ({ text }) => ({
    message: `“${cut(text)}” is outside the years 0001 to 9999`,
    accepted: "a window within the years 0001 to 9999",
  }),
  "window.tooLong": ({ characters, most }) => ({
    message: `the window is too long: it has ${characters} characters`,
    accepted: `${most} characters at most`,
  }),
  "window.oneDate": ({ text }) => ({
    message: `“${cut(text)}” is a period with two ends; one date is expected`,
    accepted: WRITTEN_PART,
  }),
  "window.longerThan": ({ text, longest }) => ({
    message: `the window ${cut(text)} is longer than the maximum of ${longest}`,
    accepted: `a window of ${longest} at most`,
  }),
  "window.openEnd": ({ longest }) => ({
    message: `a window with an open end has no length; the maximum is ${longest}`,
    accepted: `both ends, ${longest} apart at most`,
  }),
  "window.outOfLimits": ({ text, earliest, latest }) => ({
    message: `“${cut(text)}” is outside the limits of this parameter`,
    accepted: limitsInWords(earliest, latest),
  }),
  "ladder.untiled": ({ day, kind, between }) => ({
    message:
      kind === "empty"
        ? `on ${day}, “${between.join()}” is empty`
        : `on ${day}, there is ${kind === "gap" ? "a gap" : "an overlap"} between ${between.map((name) => `“${name}”`).join(" and ")}`,
    accepted: "windows without gaps or overlaps on every day",
  }),
  "rung.unknown": ({ name, known }) => ({
    message: `there is no window named “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearestName(name, known),
  }),
  "field.value": ({ name, accepted, fits }) => ({
    message:
      `the value is not a ${name}` +
      (fits === null ? "" : `, but could be a ${fits}: are the two swapped?`),
    accepted,
  }),
  "field.missing": ({ name, needs }) => ({
    message: `“${name}” requires “${needs}”`,
    accepted: `“${needs}” beside it`,
  }),
  "calendar.setting": ({ name, accepted }) => ({
    message: `the calendar setting “${name}” is invalid`,
    accepted,
  }),
  "window.reversed": ({ first, second }) => ({
    message: `the end ${second} is before the start ${first}`,
    accepted: "a start that is not after the end",
  }),
  "parameter.unknown": ({ name, known }) => ({
    message: `unknown parameter “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearestName(name, known),
  }),
  "parameter.repeated": ({ name, times }) => ({
    message: `“${cut(name)}” was sent ${times} times and takes one value`,
    accepted: "one value",
  }),
  "parameter.notAllowed": ({ name }) => ({
    message: `“${cut(name)}” is not allowed for callers of this listing`,
  }),
  "parameter.column": ({ parameter, column, type, accepted }) => ({
    message: `a parameter of the type ${parameter} does not fit “${cut(column)}”, which holds ${type}`,
    accepted: `a column of ${accepted.join(" or ")}`,
  }),
  "parameter.required": ({ name }) => ({
    message: `“${cut(name)}” is required`,
  }),
  "parameter.list": ({ text, separate }) => ({
    message: `“${cut(text)}” has several values in one: repeat the parameter`,
    accepted: cut(separate),
  }),
  "parameter.choice": ({ text, values, meant }) => ({
    message: `“${cut(text)}” is not one of the accepted values`,
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
    message: `“${cut(text)}” is not a range of numbers`,
    accepted: "A/B with both ends included, such as 100/250, 100/.. or ../250",
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
    message: `“${cut(text)}” is not a path into a document`,
    accepted: "$, then .name, ['name'], [0] or [*], such as $.stops[*]",
  }),
  "order.perValue": ({ column }) => ({
    message: `a record can have several values of ${cut(column)}, so it cannot be ordered by them`,
    accepted: "another column, or rows=values",
  }),
  "source.unnest": ({ name, reason }) => ({
    message: `the values in ${cut(name)} cannot be a source: ${reason}`,
    accepted: "a column of JSON strings of a source that is one table",
  }),
  "order.repeated": ({ column }) => ({
    message: `the order names “${cut(column)}” twice`,
  }),
  "order.tooMany": ({ most }) => ({
    message: `an order has ${most} columns at most`,
  }),
  "order.severalTables": ({ column }) => ({
    message: "records of several tables are ordered by one column only",
    accepted: `${column} alone`,
  }),
  "order.unknown": ({ name, allowed }) => ({
    message: `records cannot be ordered by “${cut(name)}” here`,
    accepted: allowed.flatMap((column) => [column, `-${column}`]).join(", "),
    nearest: nearestOrder(name, allowed),
  }),
  "page.size": ({ least, most }) => ({
    message: `a page holds ${least} to ${most} records`,
    accepted: `a whole number from ${least} to ${most}`,
  }),
  "cursor.unreadable": () => ({
    message: "the cursor was not made by this service for this key and listing",
    accepted: "a link of an earlier answer, or no cursor for the first page",
  }),
  "cursor.ended": ({ by }) => ({
    message: `the cursor is no longer valid: ${CURSOR_ENDED[by]}`,
    accepted: "no cursor, for the first page",
  }),
  "cursor.otherQuery": () => ({
    message: "the cursor belongs to a page of other parameters or another order",
    accepted: "the parameters that the cursor came with, or no cursor for the first page",
  }),
  "phrase.locale": ({ locale, known }) => ({
    message: `phrases in “${cut(locale)}” are not accepted`,
    accepted: known.join(", "),
    nearest: nearest(locale, known),
  }),
  "phrase.unknown": ({ text, known }) => ({
    message: `“${cut(text)}” is no window and no phrase that is known here`,
    accepted:
      "a phrase such as last month, past 30 days, since Monday, 3 Apr 2025, Q1 2025, April to June 2025, between … and …; or the notation of windows",
    nearest: nearest(text.trim().toLowerCase(), known),
  }),
  "phrase.ambiguous": ({ text, readings }) => ({
    message: `“${cut(text)}” can mean ${readings.map(({ window, sentence }) => `${window} (${sentence})`).join(" or ")}`,
    accepted: "one of them in the notation of windows",
    nearest: readings.map(({ window }) => window),
  }),
  "phrase.weekday": ({ date, is, not, day }) => ({
    message: `${date} is a ${is}, not a ${not}`,
    accepted: "the date without the day of the week, or with the right one",
    nearest: day,
  }),
  "phrase.nothing": ({ text }) => ({
    message: `“${cut(text)}” is a period without length`,
    accepted: "one unit at least, such as last 1 day",
  }),
  "caller.noClaim": ({ claim }) => ({
    message: `the listing shows to each person what belongs to their “${cut(claim)}”, and this caller has none`,
    accepted: "a person with that claim; whoever owns the service gives it",
  }),
  "resume.beside": ({ name }) => ({
    message: `“${cut(name)}” does not go with “resume”: records come in the order in which they changed`,
    accepted: "resume with the listing's own parameters, size, columns and filter",
  }),
  "resume.moving": () => ({
    message:
      "“resume” does not go with a window that moves: records would come in without a change of theirs",
    accepted: "windows of fixed dates, or no window",
  }),
  "resume.unreadable": () => ({
    message: "the value of “resume” was not made by this service for this listing",
    accepted: "start, or meta.resume.token of an earlier answer",
  }),
  "resume.ended": ({ by }) => ({
    message: `the place to resume from is no longer valid: ${RESUME_ENDED[by]}`,
    accepted: "start, to read all records again",
  }),
  "zone.unknown": ({ zone }) => ({
    message: `“${cut(zone)}” is not a known time zone`,
    accepted: "a name of the IANA time zone database, such as Europe/London, or UTC",
    nearest: nearest(zone, [...Intl.supportedValuesOf("timeZone"), "UTC"]),
  }),
  "column.unknown": ({ name, known }) => ({
    message: `unknown column “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "column.notDate": ({ name, type }) => ({
    message: `column “${name}” holds ${type}, not dates, and cannot be compared with a date`,
    accepted: "a column with a date reading",
  }),
  "column.partial": ({ name, most }) => ({
    message: `${cut(name)} has dates without a day, and the rules of the window recur without end or more than ${most} times`,
    accepted: "a window with a start and an end, in which they recur less often",
  }),
  "column.finerThanDay": ({ name, text }) => ({
    message: `column “${name}” holds days, and ${text} is a time within a day`,
    accepted: "whole days",
  }),
  "column.notNumber": ({ name, type }) => ({
    message: `column “${cut(name)}” holds ${type}, not numbers, and cannot be compared with a number`,
    accepted: "a column of numbers",
  }),
  "column.notText": ({ name, type }) => ({
    message: `column “${cut(name)}” holds ${type}, not text, and cannot be compared with a string`,
    accepted: type === "date" ? "a date, such as DATE('2025-02-28')" : "a column of text",
  }),
  "column.otherType": ({ first, second, firstType, secondType }) => ({
    message:
      `column “${cut(first)}” holds ${firstType} and “${cut(second)}” ${secondType}, ` +
      "so they cannot be compared",
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
  "reading.partial": () => ({
    message: "only strings that are days can have a policy for months and years without a day",
    accepted: "the kind date with the encoding text, or no partial",
  }),
  "reading.pattern": ({ pattern, reason, meant }) => ({
    message: `“${cut(pattern)}” is not a date pattern: ${reason}`,
    accepted: "the date field letters of Unicode UTS #35, such as dd/MM/yyyy",
    nearest: meant ?? null,
  }),
  "name.form": ({ name }) => ({
    message: `“${cut(name)}” is not a valid name`,
    accepted: "a letter, then letters, digits, - or _, 64 at most",
  }),
  "name.taken": ({ name }) => ({ message: `the name “${cut(name)}” is taken` }),
  "name.reserved": ({ name, reserved }) => ({
    message: `“${cut(name)}” is a reserved name`,
    accepted: `any other name than ${reserved.join(", ")}`,
  }),
  "name.unknown": ({ what, name, known }) => ({
    message: `there is no ${what} “${cut(name)}”`,
    accepted: known.join(", "),
    nearest: nearest(name, known),
  }),
  "parameter.conflict": ({ first, second }) => ({
    message: `“${first}” and “${second}” belong to one condition and contradict each other`,
  }),
  "column.constant": ({ column }) => ({
    message: `${cut(column)} names the table of a record, and cannot be compared with other columns`,
    accepted: "windows, values, blank or not",
  }),
  "column.notChosen": ({ name, type }) => ({
    message: `“${cut(name)}” holds ${type}, which are not listed one by one`,
    accepted: "a text column, numbers or yes and no; the timeline for dates",
  }),
  "column.notBoolean": ({ name, type }) => ({
    message:
      type === "boolean"
        ? `column “${cut(name)}” holds yes or no, and cannot be compared with anything else`
        : `column “${cut(name)}” holds ${type}, and cannot be compared with yes or no`,
    accepted: type === "boolean" ? "TRUE or FALSE" : "a column of yes and no",
  }),
  "boolean.form": ({ text }) => ({
    message: `“${cut(text)}” is neither yes nor no`,
    accepted: "true or false, yes or no, y or n, t or f, on or off, 1 or 0",
  }),
  "column.notOrdered": ({ name, type }) => ({
    message: `“${name}” holds ${type}, which has no order`,
    accepted: "= or <>, or a column of dates or numbers",
  }),
  "parameter.precision": ({ column }) => ({
    message: `column “${column}” holds whole days, so a parameter on it cannot take times`,
    accepted: "the type “date”",
  }),
  "parameter.comparison": ({ type, accepted }) => ({
    message: `a parameter of the type “${type}” does not have this comparison`,
    accepted: accepted.join(", "),
  }),
  "edit.column": ({ name, editable }) => ({
    message: `column “${cut(name)}” cannot be edited`,
    accepted: editable.length === 0 ? "no column of this listing" : editable.join(", "),
    nearest: nearest(name, editable),
  }),
  "edit.value": ({ column, accepted }) => ({
    message: `the value does not fit the column “${column}”`,
    accepted,
  }),
  "edit.empty": ({ columns }) => ({
    message: "there is nothing to change",
    accepted: `a value for at least one of ${columns.join(", ")}`,
  }),
  "parameter.setting": ({ name, reason }) => ({ message: `“${name}” is invalid: ${reason}` }),
  "pair.incomplete": ({ pair }) => ({
    message: `the pair “${pair}” needs one parameter with “from” or “after” and one with “to” or “before”, on one column`,
  }),
  "faults.more": ({ count }) => ({ message: `${count} more are not listed` }),
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
  "file.headings": ({ reason, accepted }) => ({
    message: reason,
    ...(accepted === undefined ? {} : { accepted }),
  }),
  "file.sheet": ({ reason, sheets }) => ({ message: reason, accepted: sheets.join(", ") }),
  "file.limit": ({ reason, most }) => ({ message: reason, accepted: most }),
  "listing.breaks": ({ listing, reason }) => ({
    message: `${listing} would be broken: ${reason}`,
    accepted: "a change that fits the listing; or force (--force)",
  }),
  "file.same": ({ importNumber, importedAt }) => ({
    message: `this file was imported already, as import ${importNumber} at ${importedAt}`,
    accepted: "another file, or again=yes to import it again",
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
  const nearest = found.meant ?? prose.nearest;
  return {
    ...(found.parameter === undefined ? {} : { parameter: cut(found.parameter) }),
    ...(found.path === undefined ? {} : { path: found.path }),
    ...(found.column === undefined ? {} : { column: cut(found.column) }),
    ...(found.value === undefined ? {} : { value: cut(found.value) }),
    code: found.code,
    message: prose.message,
    ...acceptedIn(found, prose),
    ...(nearest == null ? {} : { nearest: typeof nearest === "string" ? [nearest] : nearest }),
  };
}

/** What is accepted at the place of a fault: the declared form first, if it has one. */
function acceptedIn({ declaredForm }: Fault, { accepted }: Prose): Pick<RenderedFault, "accepted"> {
  if (declaredForm === undefined) return accepted === undefined ? {} : { accepted };
  // The fault of a form names it already.
  if (accepted === undefined || accepted.startsWith(declaredForm)) {
    return { accepted: accepted ?? declaredForm };
  }
  return { accepted: `${declaredForm}, or ${accepted}` };
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
