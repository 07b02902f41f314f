import { fault, notice, type Fault, type Notice } from "../faults/index.js";
import { blankName } from "./blanks.js";
import type { PlanContext } from "./context.js";
import {
  ENVELOPE_PARAMETERS,
  MOMENT_PARAMETERS,
  RESERVED_PARAMETERS,
  takesDates,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "./declaration.js";
import type { SentParameters } from "./sent.js";
import { takesResume } from "./resume.js";

/** The parameter that carries a compound condition. */
export const COMPOUND = "filter";

/** What the parameters of a declaration are, worked out once for all requests. */
interface ParameterShape {
  readonly names: readonly string[];
  readonly known: ReadonlySet<string>;
  /** The names that may be sent more than once. */
  readonly repeatable: ReadonlySet<string>;
  /** The parameters of each condition: one, or the two ends of a pair. */
  readonly groups: readonly (readonly ParameterDeclaration[])[];
}

const shapes = new WeakMap<ListingDeclaration, ParameterShape>();

export function shapeOf(listing: ListingDeclaration): ParameterShape {
  const held = shapes.get(listing);
  if (held !== undefined) return held;
  const names = namesOf(listing);
  const several = listing.parameters.filter(({ type }) => type === "several");
  const shape = {
    names,
    known: new Set(names),
    repeatable: new Set(["order", "columns", ...several.map(({ name }) => name)]),
    groups: groupsOf(listing.parameters),
  };
  shapes.set(listing, shape);
  return shape;
}

function groupsOf(parameters: readonly ParameterDeclaration[]) {
  const groups = new Map<string, ParameterDeclaration[]>();
  for (const parameter of parameters) {
    const key = parameter.pair === undefined ? `name ${parameter.name}` : `pair ${parameter.pair}`;
    groups.set(key, [...(groups.get(key) ?? []), parameter]);
  }
  return [...groups.values()];
}

/** The names that a listing takes, in the order of its declaration. */
export function parameterNames(
  listing: ListingDeclaration,
  allowed: PlanContext["allowed"] = [],
): readonly string[] {
  return [...shapeOf(listing).names, ...allowed];
}

function namesOf(listing: ListingDeclaration): readonly string[] {
  const declared = listing.parameters.flatMap((parameter) => [
    parameter.name,
    ...(takesDates(parameter) ? Object.values(parameter.fields ?? {}) : []),
    // What is found somewhere in several columns is blank in none of them, or in some.
    ...(parameter.type === "search" ? [] : [blankName(parameter.name)]),
  ]);
  const compound = listing.filter === undefined ? [] : [COMPOUND];
  const rows = listing.rows === undefined ? [] : ["rows"];
  const { paging } = listing.endpoint ?? {};
  const page = listing.page.numbered === true || paging?.page !== undefined ? ["page"] : [];
  const offset = paging?.offset === undefined ? [] : ["offset"];
  const resume = takesResume(listing.resume) ? ["resume"] : [];
  return [...declared, ...compound, ...rows, ...page, ...offset, ...resume, ...ENVELOPE_PARAMETERS];
}

function knows(
  listing: ListingDeclaration,
  allowed: PlanContext["allowed"],
): (name: string) => boolean {
  const { known } = shapeOf(listing);
  return (name) => known.has(name) || (allowed as readonly string[]).includes(name);
}

/** Ignored, these would give the records of another time than was requested. */
const NEVER_IGNORED: ReadonlySet<string> = new Set(MOMENT_PARAMETERS);

function mayIgnore(name: string, listing: ListingDeclaration): boolean {
  return listing.unknownParameters === "ignore" && !NEVER_IGNORED.has(name);
}

/** What was sent under names that the listing does not have, and ignores. */
export function ignoredNotices(
  listing: ListingDeclaration,
  sent: SentParameters,
  { allowed }: PlanContext,
): readonly Notice[] {
  const isKnown = knows(listing, allowed);
  const names = [...sent.keys()].filter((name) => !isKnown(name) && mayIgnore(name, listing));
  return names.length === 0 ? [] : [notice("parameter.ignored", { names })];
}

/** The names that were sent and that the listing does not take, or takes but once. */
export function nameFaults(
  listing: ListingDeclaration,
  sent: SentParameters,
  { allowed }: PlanContext,
): readonly Fault[] {
  const isKnown = knows(listing, allowed);
  const { repeatable } = shapeOf(listing);
  return [...sent].flatMap(([name, values]) => {
    const place = { parameter: name, value: values.join(", ") };
    if (!isKnown(name)) {
      if (mayIgnore(name, listing)) return [];
      const reserved = (RESERVED_PARAMETERS as readonly string[]).includes(name);
      return reserved
        ? [fault("parameter.notAllowed", { name }, place)]
        : [fault("parameter.unknown", { name, known: parameterNames(listing, allowed) }, place)];
    }
    if (repeatable.has(name)) return [];
    const { length: times } = values;
    return times > 1 ? [fault("parameter.repeated", { name, times }, place)] : [];
  });
}
