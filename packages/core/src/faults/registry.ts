/** What each fault code carries. The one list that all others must be complete over. */
export interface FaultFacts {
  "date.form": { readonly text: string };
  "date.ambiguous": {
    readonly text: string;
    readonly dayFirst: string;
    readonly monthFirst: string;
  };
  "date.order": { readonly text: string; readonly meant: string };
  "date.impossible": { readonly text: string; readonly reason: string };
  "date.timeRefused": { readonly text: string; readonly day: string };
  "date.offsetRefused": { readonly text: string };
  "date.pattern": { readonly text: string; readonly patterns: readonly string[] };
  "date.name": { readonly text: string; readonly name: string; readonly known: readonly string[] };
  "date.spelling": { readonly text: string; readonly meant: string };
  "date.trailing": { readonly text: string; readonly rest: string };
  "date.number": { readonly text: string; readonly unit: string };
  "date.type": { readonly text: string; readonly wanted: string };
  "date.timeOnly": { readonly text: string };
  "date.skipped": { readonly text: string; readonly zone: string };
  /** A reading by which a column of a database cannot be queried. */
  "storage.reading": { readonly column: string; readonly reason: string; readonly instead: string };
  /** Places that the operator allows, as `host:port`. */
  "attach.host": { readonly allowed: readonly string[] };
  "attach.own": Readonly<Record<string, never>>;
  "attach.server": { readonly version: string };
  "attach.writer": { readonly rights: readonly string[] };
  "attach.pattern": { readonly table: string; readonly reason: string };
  "source.combine": { readonly name: string; readonly reason: string };
  "attach.key": {
    readonly table: string;
    readonly reason: string;
    readonly keys: readonly string[];
  };
  "locale.unknown": { readonly locale: string; readonly known: readonly string[] };
  "number.form": { readonly text: string; readonly type: string };
  /** A form of numbers that none can be written in. */
  "number.written": { readonly reason: "separators" | "unit" | "units" };
  "number.example": { readonly text: string; readonly type: "integer" | "decimal" };
  /** Words for yes and no, of which one means both or one has none. */
  "boolean.words": { readonly both: string | null };
  /** Places in a window are counted from 1, in characters of the text as it was read. */
  "window.syntax": { readonly at: number; readonly text: string; readonly reason: string };
  "window.form": { readonly at: number; readonly text: string; readonly instead: string };
  "window.word": {
    readonly at: number;
    readonly word: string;
    readonly what: string;
    readonly known: readonly string[];
  };
  "window.number": { readonly at: number; readonly text: string; readonly accepted: string };
  "window.tooFar": { readonly text: string };
  "window.tooLong": { readonly characters: number; readonly most: number };
  "window.oneDate": { readonly text: string };
  "window.longerThan": { readonly text: string; readonly longest: string };
  "window.openEnd": { readonly longest: string };
  "window.outOfLimits": {
    readonly text: string;
    readonly earliest: string | null;
    readonly latest: string | null;
  };
  "ladder.untiled": {
    readonly day: string;
    readonly kind: "gap" | "overlap" | "empty";
    readonly between: readonly string[];
  };
  "rung.unknown": { readonly name: string; readonly known: readonly string[] };
  "field.value": {
    readonly name: string;
    readonly accepted: string;
    /** The field that the value would fit, where two seem to be swapped. */
    readonly fits: string | null;
  };
  "field.missing": { readonly name: string; readonly needs: string };
  "calendar.setting": { readonly name: string; readonly accepted: string };
  "window.reversed": { readonly first: string; readonly second: string };
  "parameter.unknown": { readonly name: string; readonly known: readonly string[] };
  "parameter.repeated": { readonly name: string; readonly times: number };
  "parameter.notAllowed": { readonly name: string };
  "parameter.column": {
    readonly parameter: string;
    readonly column: string;
    readonly type: string;
    readonly accepted: readonly string[];
  };
  "parameter.required": { readonly name: string };
  "parameter.list": { readonly text: string; readonly separate: string };
  "parameter.choice": {
    readonly text: string;
    readonly values: readonly string[];
    readonly meant: string | null;
  };
  "parameter.unused": { readonly name: string; readonly reason: string };
  /** A column that cannot be edited, and those that can. */
  "edit.column": { readonly name: string; readonly editable: readonly string[] };
  "edit.value": { readonly column: string; readonly accepted: string };
  "edit.empty": { readonly columns: readonly string[] };
  "number.scale": { readonly text: string; readonly scale: number };
  "range.form": { readonly text: string };
  "range.reversed": { readonly first: string; readonly second: string };
  "unit.form": { readonly column: string; readonly type: string };
  "parameter.value": { readonly accepted: string; readonly nearest?: string };
  "path.form": { readonly text: string };
  "order.perValue": { readonly column: string };
  "source.unnest": { readonly name: string; readonly reason: string };
  "order.repeated": { readonly column: string };
  "order.tooMany": { readonly most: number };
  "order.severalTables": { readonly column: string };
  "order.unknown": { readonly name: string; readonly allowed: readonly string[] };
  "page.size": { readonly least: number; readonly most: number };
  "cursor.unreadable": Readonly<Record<string, never>>;
  "cursor.ended": { readonly by: "version" | "source" | "ids" | "order" };
  "cursor.otherQuery": Readonly<Record<string, never>>;
  "phrase.locale": { readonly locale: string; readonly known: readonly string[] };
  "phrase.unknown": { readonly text: string; readonly known: readonly string[] };
  /** The windows that a phrase can mean, in the notation and in words. */
  "phrase.ambiguous": {
    readonly text: string;
    readonly readings: readonly { readonly window: string; readonly sentence: string }[];
  };
  /** A date with the name of another weekday; the day in ISO 8601. */
  "phrase.weekday": {
    readonly date: string;
    readonly is: string;
    readonly not: string;
    readonly day: string;
  };
  "phrase.nothing": { readonly text: string };
  "caller.noClaim": { readonly claim: string };
  "resume.beside": { readonly name: string };
  "resume.moving": Readonly<Record<string, never>>;
  "resume.unreadable": Readonly<Record<string, never>>;
  "resume.ended": { readonly by: "source" | "ids" | "filter" | "backup" };
  "zone.unknown": { readonly zone: string };
  "column.unknown": { readonly name: string; readonly known: readonly string[] };
  "column.notDate": { readonly name: string; readonly type: string };
  "column.partial": { readonly name: string; readonly most: number };
  "column.finerThanDay": { readonly name: string; readonly text: string };
  "column.notNumber": { readonly name: string; readonly type: string };
  "column.notText": { readonly name: string; readonly type: string };
  "column.otherType": {
    readonly first: string;
    readonly second: string;
    readonly firstType: string;
    readonly secondType: string;
  };
  "column.noState": { readonly name: string };
  "filter.tooLarge": { readonly what: string; readonly most: number };
  "filter.syntax": { readonly at: number; readonly text: string; readonly reason: string };
  "filter.word": {
    readonly at: number;
    readonly word: string;
    readonly what: string;
    readonly known: readonly string[];
  };
  "filter.value": { readonly text: string; readonly accepted: string };
  "reading.partial": Readonly<Record<string, never>>;
  "reading.pattern": {
    readonly pattern: string;
    readonly reason: string;
    /** The pattern that was probably meant. */
    readonly meant?: string | null;
  };
  "name.form": { readonly name: string };
  "name.taken": { readonly name: string };
  "name.reserved": { readonly name: string; readonly reserved: readonly string[] };
  "name.unknown": {
    readonly what: string;
    readonly name: string;
    readonly known: readonly string[];
  };
  "parameter.conflict": { readonly first: string; readonly second: string };
  "column.constant": { readonly column: string };
  "column.notChosen": { readonly name: string; readonly type: string };
  "column.notBoolean": { readonly name: string; readonly type: string };
  "boolean.form": { readonly text: string };
  "column.notOrdered": { readonly name: string; readonly type: string };
  "parameter.precision": { readonly column: string };
  "parameter.comparison": { readonly type: string; readonly accepted: readonly string[] };
  "parameter.setting": { readonly name: string; readonly reason: string };
  "pair.incomplete": { readonly pair: string };
  "faults.more": { readonly count: number };
  "document.shape": { readonly reason: string; readonly nearest?: string };
  /** What a file turned out to be, where it is no table. */
  "file.type": { readonly found: string };
  "file.encoding": { readonly reason: string; readonly known: readonly string[] };
  /** The line is null where the file as a whole is at fault. */
  "file.broken": { readonly line: number | null; readonly reason: string };
  "file.headings": { readonly reason: string; readonly accepted?: string };
  "file.sheet": { readonly reason: string; readonly sheets: readonly string[] };
  "file.limit": { readonly reason: string; readonly most: string };
  "listing.breaks": { readonly listing: string; readonly reason: string };
  "file.same": { readonly importNumber: number; readonly importedAt: string };
  "row.cells": { readonly found: number; readonly expected: number };
  "row.place": { readonly reason: string };
  "row.key": { readonly reason: string };
  "row.form": { readonly reason: string };
}
