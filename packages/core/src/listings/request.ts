import { MS_PER_DAY, dayOf, isoDay, isoWall, type Interval, type Zone } from "../calendar/index.js";
import {
  failure,
  fault,
  notice,
  placed,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import {
  BLANK_POLICIES,
  intervalOf,
  type BlankPolicy,
  type Catalogue,
  type DateCondition,
  type Filter,
} from "../filters/index.js";
import type { WrittenDate } from "../reading/index.js";
import type { RecordOrder } from "../sql/index.js";
import {
  fromQueryString,
  isFinerThanDay,
  isReversed,
  readGivenDate,
  resolveSpan,
  withHyphens,
  type ResolvedSpan,
} from "../windows/index.js";
import { isStart } from "./check.js";
import {
  ENVELOPE_PARAMETERS,
  RESERVED_PARAMETERS,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "./declaration.js";

/** What a caller sent: each name with its values, in the order of sending. */
export type SentParameters = ReadonlyMap<string, readonly string[]>;

/** One parameter as it took effect. */
export interface EffectiveParameter {
  readonly declaration: ParameterDeclaration;
  /** The text as it came. */
  readonly raw: string;
  /** The date that took effect, which after a swap is not the one that came under this name. */
  readonly written: WrittenDate;
  readonly resolved: ResolvedSpan;
}

/** One condition of a request: one parameter, or the two ends of a pair. */
export interface EffectiveCondition {
  readonly parameters: readonly EffectiveParameter[];
  readonly condition: DateCondition;
}

/** What a request to a listing comes to. */
export interface PlannedRequest {
  readonly filter: Filter;
  readonly conditions: readonly EffectiveCondition[];
  readonly order: RecordOrder;
  readonly notices: readonly Notice[];
}

/** What the meaning of a request depends on beside its parameters. */
export interface PlanContext {
  readonly zone: Zone;
  readonly columns: Catalogue;
}

/**
 * Works out a request to a listing: its filter, order and notices.
 *
 * Parameters that are absent, empty or a spelling of "nothing" make no condition. Fails with
 * every fault of the request at once, in the order in which the parameters came.
 */
export function planRequest(
  listing: ListingDeclaration,
  sent: SentParameters,
  context: PlanContext,
): Result<PlannedRequest> {
  const faults: Fault[] = [...nameFaults(listing, sent)];
  const notices: Notice[] = [];
  const conditions = groupsOf(listing.parameters).flatMap((group) => {
    const planned = planGroup(group, listing, sent, context);
    faults.push(...planned.faults);
    notices.push(...planned.notices);
    return planned.condition === null ? [] : [planned.condition];
  });
  const order = planOrder(listing, sent);
  if (!order.ok) faults.push(...order.faults);
  if (faults.length > 0 || !order.ok) return failure(...inOrderOfSending(faults, sent));
  return success({
    filter: { kind: "all", of: conditions.map(({ condition }) => condition) },
    conditions,
    order: order.value,
    notices,
  });
}

/** The names that a listing takes, in the order of its declaration. */
export function parameterNames(listing: ListingDeclaration): readonly string[] {
  const declared = listing.parameters.flatMap(({ name }) => [name, blankName(name)]);
  return [...declared, ...ENVELOPE_PARAMETERS];
}

function nameFaults(listing: ListingDeclaration, sent: SentParameters): readonly Fault[] {
  const known = parameterNames(listing);
  return [...sent].flatMap(([name, values]) => {
    const place = { parameter: name, value: values.join(", ") };
    if (!known.includes(name)) {
      const reserved = (RESERVED_PARAMETERS as readonly string[]).includes(name);
      return reserved
        ? [fault("parameter.notAllowed", { name }, place)]
        : [fault("parameter.unknown", { name, known }, place)];
    }
    const { length: times } = values;
    return times > 1 ? [fault("parameter.repeated", { name, times }, place)] : [];
  });
}

function groupsOf(parameters: readonly ParameterDeclaration[]) {
  const groups = new Map<string, ParameterDeclaration[]>();
  for (const parameter of parameters) {
    const key = parameter.pair === undefined ? `name ${parameter.name}` : `pair ${parameter.pair}`;
    groups.set(key, [...(groups.get(key) ?? []), parameter]);
  }
  return [...groups.values()];
}

interface PlannedGroup {
  readonly condition: EffectiveCondition | null;
  readonly faults: readonly Fault[];
  readonly notices: readonly Notice[];
}

function planGroup(
  group: readonly ParameterDeclaration[],
  listing: ListingDeclaration,
  sent: SentParameters,
  context: PlanContext,
): PlannedGroup {
  const faults: Fault[] = [];
  const given = group.flatMap((declaration) => {
    const read = readParameter(declaration, sent, context.zone);
    if (read.ok) return read.value === null ? [] : [read.value];
    faults.push(...read.faults);
    return [];
  });
  const blanks = readBlanks(group, sent);
  if (!blanks.ok) faults.push(...blanks.faults);
  const [first] = group;
  if (faults.length > 0 || !blanks.ok || first === undefined) {
    return { condition: null, faults, notices: [] };
  }
  if (given.length === 0 && blanks.value !== "only") {
    return { condition: null, faults, notices: [] };
  }
  const arranged = arrangePair(given, listing);
  if (!arranged.ok) return { condition: null, faults: arranged.faults, notices: [] };
  const { parameters, notices } = arranged.value;
  const condition: DateCondition = {
    kind: "date",
    column: first.column,
    side: first.comparison === "notOn" ? "outside" : "inside",
    interval: intersection(
      parameters.map(({ declaration, resolved }) =>
        intervalOf(declaration.comparison, resolved.span),
      ),
    ),
    blanks: blanks.value,
  };
  const column = context.columns.get(first.column);
  // On days and wall-clock times the other face of an edge is compared, which is never in doubt.
  const edges =
    column?.type === "date" && column.kind === "instant"
      ? parameters.flatMap(({ resolved }) => resolved.notices)
      : [];
  return {
    condition: { parameters, condition },
    faults,
    notices: [
      ...overlooked(given),
      ...notices,
      ...midnights(parameters),
      ...edges,
      ...emptiness(condition),
    ],
  };
}

function readParameter(
  declaration: ParameterDeclaration,
  sent: SentParameters,
  zone: Zone,
): Result<EffectiveParameter | null> {
  const values = sent.get(declaration.name) ?? [];
  const [raw] = values;
  // Sent more than once is a fault of its own, and none of its values is looked at.
  if (raw === undefined || values.length > 1) return success(null);
  // Parameters come in a query string, where a plus or a T may have become a space.
  const read = readGivenDate(fromQueryString(raw), declaration.type);
  if (!read.ok) {
    const place = { parameter: declaration.name, value: raw };
    return failure(...read.faults.map((each) => placed(each, place)));
  }
  if (read.value.kind !== "written") return success(null);
  const { written } = read.value;
  return success({ declaration, raw, written, resolved: resolveSpan(written, zone) });
}

function blankName(parameter: string): string {
  return `${parameter}.blank`;
}

/** The blank policy of a condition: as sent under either name of a pair, else as declared. */
function readBlanks(
  group: readonly ParameterDeclaration[],
  sent: SentParameters,
): Result<BlankPolicy> {
  const faults: Fault[] = [];
  const said = new Map<string, BlankPolicy>();
  for (const { name } of group) {
    const values = sent.get(blankName(name)) ?? [];
    const value = values.length === 1 ? (values[0] ?? "").trim() : "";
    if (value === "") continue;
    const policy = BLANK_POLICIES.find((each) => each === value);
    if (policy !== undefined) said.set(blankName(name), policy);
    else {
      const facts = { accepted: BLANK_POLICIES.join(", ") };
      faults.push(fault("parameter.value", facts, { parameter: blankName(name), value }));
    }
  }
  const [first, second] = [...said];
  if (first !== undefined && second !== undefined && first[1] !== second[1]) {
    const facts = { first: first[0], second: second[0] };
    faults.push(fault("parameter.conflict", facts, { parameter: second[0], value: second[1] }));
  }
  if (faults.length > 0) return failure(...faults);
  return success(first?.[1] ?? group[0]?.blanks ?? "leave");
}

/** Puts two dates in reverse order right, or refuses them, as the listing says. */
function arrangePair(
  given: readonly EffectiveParameter[],
  listing: ListingDeclaration,
): Result<{
  readonly parameters: readonly EffectiveParameter[];
  readonly notices: readonly Notice[];
}> {
  const start = given.find(({ declaration }) => isStart(declaration.comparison));
  const end = given.find((parameter) => parameter !== start);
  if (
    start === undefined ||
    end === undefined ||
    !isReversed(start.resolved.span, end.resolved.span)
  ) {
    return success({ parameters: given, notices: [] });
  }
  const facts = { first: start.written.canonical, second: end.written.canonical };
  if (listing.reversed === "refuse") {
    const place = { parameter: end.declaration.name, value: end.raw };
    return failure(fault("window.reversed", facts, place));
  }
  return success({
    parameters: [
      { ...start, written: end.written, resolved: end.resolved },
      { ...end, written: start.written, resolved: start.resolved },
    ],
    notices: [notice("window.swapped", { first: facts.second, second: facts.first })],
  });
}

function intersection(intervals: readonly Interval[]): Interval {
  return intervals.reduce(
    (whole, { start, end }) => ({ start: start ?? whole.start, end: end ?? whole.end }),
    { start: null, end: null },
  );
}

/** What was overlooked in how values are written. */
function overlooked(given: readonly EffectiveParameter[]): readonly Notice[] {
  return given.flatMap(({ raw, declaration: { name: parameter } }) => [
    ...(raw === raw.trim() ? [] : [notice("value.trimmed", { parameter })]),
    ...(raw === withHyphens(raw) ? [] : [notice("value.dashes", { parameter })]),
  ]);
}

/** Pickers send midnight as an end when people mean the day. */
function midnights(parameters: readonly EffectiveParameter[]): readonly Notice[] {
  return parameters
    .filter(({ declaration: { comparison }, written }) => {
      const isEnd = comparison === "to" || comparison === "before";
      return isEnd && isFinerThanDay(written) && written.start % MS_PER_DAY === 0;
    })
    .map(({ declaration: { name: parameter }, written }) =>
      notice("edge.midnight", { parameter, day: isoDay(dayOf(written.start)) }),
    );
}

function emptiness({ interval: { start, end }, side }: DateCondition): readonly Notice[] {
  if (start === null || end === null || side === "outside") return [];
  if (start.instant < end.instant || start.wall < end.wall) return [];
  return [notice("window.empty", { start: isoWall(start.wall), end: isoWall(end.wall) })];
}

function planOrder(listing: ListingDeclaration, sent: SentParameters): Result<RecordOrder> {
  const values = sent.get("order") ?? [];
  const raw = (values.length === 1 ? (values[0] ?? "") : "").trim();
  const text = raw === "" ? listing.order.default : raw;
  const descending = text.startsWith("-");
  const column = descending ? text.slice(1) : text;
  const { allowed } = listing.order;
  if (allowed.includes(column)) return success({ column, descending });
  return failure(
    fault("order.unknown", { name: text, allowed }, { parameter: "order", value: text }),
  );
}

function inOrderOfSending(faults: readonly Fault[], sent: SentParameters): readonly Fault[] {
  const names = [...sent.keys()];
  const place = ({ parameter }: Fault) => names.indexOf(parameter ?? "");
  return [...faults].sort((a, b) => place(a) - place(b));
}
