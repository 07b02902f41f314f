import { PROBLEMS, type ProblemDocument, type ProblemName } from "@orisma/contract";
import {
  fault,
  renderFault,
  type Fault,
  type FaultCode,
  type RenderedFault,
} from "@orisma/core/internal";

/** An answer that reports a failure: thrown where it is found, sent as RFC 9457 has it. */
export class Problem extends Error {
  constructor(
    readonly problem: ProblemName,
    readonly detail: string,
    readonly faults: readonly Fault[] = [],
    readonly headers: Readonly<Record<string, string>> = {},
  ) {
    super(detail);
  }
}

/** The problem that faults of the core come to; several kinds together count as a wrong value, unless `as` says which problem it is. `count` is how many there were, where not all are given. */
export function problemOf(
  found: readonly Fault[],
  as?: ProblemName,
  count = found.length,
): Problem {
  const more = fault("faults.more", { count: count - MAX_FAULTS });
  const faults = count > MAX_FAULTS ? [...found.slice(0, MAX_FAULTS), more] : found;
  const names = new Set(found.map(({ code }) => PROBLEM_OF_FAULT[code]));
  const [name] = names;
  const detail = faults.map((each) => renderFault(each).message).join("; ");
  return new Problem(
    as ?? (names.size === 1 && name !== undefined ? name : "invalid-value"),
    detail,
    faults,
  );
}

/** Faults that a problem lists at most: each is compared with all that would be accepted. */
export const MAX_FAULTS = 50;

/** The problem of each fault of the core: complete by its type. */
const PROBLEM_OF_FAULT: Readonly<Record<FaultCode, ProblemName>> = {
  "date.form": "invalid-value",
  "date.ambiguous": "invalid-value",
  "date.order": "invalid-value",
  "date.impossible": "invalid-value",
  "date.timeRefused": "invalid-value",
  "date.offsetRefused": "invalid-value",
  "date.pattern": "invalid-value",
  "date.name": "invalid-value",
  "date.spelling": "invalid-value",
  "date.trailing": "invalid-value",
  "date.number": "invalid-value",
  "date.type": "invalid-value",
  "date.timeOnly": "invalid-value",
  "date.skipped": "invalid-value",
  "storage.reading": "invalid-value",
  "attach.host": "invalid-value",
  "attach.own": "invalid-value",
  "attach.server": "invalid-value",
  "attach.writer": "invalid-value",
  "attach.pattern": "invalid-value",
  "source.combine": "invalid-value",
  "attach.key": "invalid-value",
  "locale.unknown": "invalid-value",
  "number.form": "invalid-value",
  "number.written": "invalid-value",
  "number.example": "invalid-value",
  "boolean.words": "invalid-value",
  "window.syntax": "invalid-value",
  "window.form": "invalid-value",
  "window.word": "invalid-value",
  "window.number": "invalid-value",
  "window.tooFar": "invalid-value",
  "window.tooLong": "invalid-value",
  "window.oneDate": "invalid-value",
  "window.longerThan": "invalid-value",
  "window.openEnd": "invalid-value",
  "window.outOfLimits": "invalid-value",
  "field.value": "invalid-value",
  "field.missing": "invalid-value",
  "ladder.untiled": "invalid-value",
  "rung.unknown": "invalid-value",
  "calendar.setting": "invalid-value",
  "window.reversed": "invalid-value",
  "parameter.unknown": "invalid-value",
  "parameter.repeated": "invalid-value",
  "parameter.notAllowed": "invalid-value",
  "parameter.column": "invalid-value",
  "parameter.required": "invalid-value",
  "parameter.list": "invalid-value",
  "parameter.choice": "invalid-value",
  "parameter.unused": "invalid-value",
  "number.scale": "invalid-value",
  "range.form": "invalid-value",
  "range.reversed": "invalid-value",
  "unit.form": "invalid-value",
  "parameter.value": "invalid-value",
  "parameter.conflict": "invalid-value",
  "parameter.precision": "invalid-value",
  "path.form": "invalid-value",
  "order.perValue": "invalid-value",
  "source.unnest": "invalid-value",
  "order.repeated": "invalid-value",
  "order.tooMany": "invalid-value",
  "order.severalTables": "invalid-value",
  "order.unknown": "invalid-value",
  "page.size": "invalid-value",
  "cursor.unreadable": "invalid-value",
  "cursor.ended": "invalid-value",
  "cursor.otherQuery": "invalid-value",
  "phrase.locale": "invalid-value",
  "phrase.unknown": "invalid-value",
  "phrase.ambiguous": "invalid-value",
  "phrase.weekday": "invalid-value",
  "phrase.nothing": "invalid-value",
  "caller.noClaim": "not-allowed",
  "resume.beside": "invalid-value",
  "resume.moving": "invalid-value",
  "resume.unreadable": "invalid-value",
  "resume.ended": "invalid-value",
  "zone.unknown": "invalid-value",
  "column.unknown": "invalid-value",
  "column.notDate": "invalid-value",
  "column.constant": "invalid-value",
  "column.notChosen": "invalid-value",
  "column.notBoolean": "invalid-value",
  "boolean.form": "invalid-value",
  "column.notOrdered": "invalid-value",
  "column.partial": "invalid-value",
  "column.finerThanDay": "invalid-value",
  "column.notNumber": "invalid-value",
  "column.notText": "invalid-value",
  "column.otherType": "invalid-value",
  "column.noState": "invalid-value",
  "filter.tooLarge": "invalid-value",
  "filter.syntax": "invalid-value",
  "filter.word": "invalid-value",
  "filter.value": "invalid-value",
  "reading.partial": "invalid-value",
  "reading.pattern": "invalid-value",
  "name.form": "invalid-value",
  "name.taken": "already-there",
  "name.reserved": "invalid-value",
  "name.unknown": "not-found",
  "parameter.comparison": "invalid-value",
  "edit.column": "invalid-value",
  "edit.value": "invalid-value",
  "edit.empty": "invalid-value",
  "parameter.setting": "invalid-value",
  "pair.incomplete": "invalid-value",
  "faults.more": "invalid-value",
  "document.shape": "invalid-value",
  "file.type": "invalid-value",
  "file.encoding": "invalid-value",
  "file.broken": "invalid-value",
  "file.headings": "invalid-value",
  "file.sheet": "invalid-value",
  "file.limit": "too-large",
  "listing.breaks": "breaks-listings",
  "file.same": "already-there",
  "row.cells": "invalid-value",
  "row.place": "invalid-value",
  "row.key": "invalid-value",
  "row.form": "invalid-value",
};

export const PROBLEM_MEDIA_TYPE = "application/problem+json";

/** The document of a problem; `instance` is the id of the request, which the log has too. */
export function problemDocument(
  problem: Problem,
  requestId: string,
  /** How faults are said, where not as everywhere. */
  said: ((found: Fault) => RenderedFault) | null = null,
): ProblemDocument {
  const { status, title } = PROBLEMS[problem.problem];
  const faults = problem.faults.map(said ?? renderFault);
  const isOwn = said !== null && faults.length > 0;
  return {
    type: `/problems#${problem.problem}`,
    title,
    status,
    detail: isOwn ? faults.map(({ message }) => message).join("; ") : problem.detail,
    instance: `urn:uuid:${requestId}`,
    faults,
  };
}
