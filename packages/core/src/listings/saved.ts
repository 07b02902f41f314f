import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { cql2OfQuery, cql2Text } from "../query/index.js";
import { blankName } from "./blanks.js";
import type { PlanContext } from "./context.js";
import { takesDates, type ListingDeclaration, type ParameterDeclaration } from "./declaration.js";
import { withDerivedColumns } from "./derived-conditions.js";
import { feedColumns } from "./feed.js";
import { COMPOUND, shapeOf } from "./parameter-names.js";
import { planRequest } from "./request.js";
import type { SentParameters } from "./sent.js";

/** What a listing that is made from another says otherwise. */
export interface SavedView {
  readonly name: string;
  readonly title?: string;
  /** Values that nobody can change, as a caller sends them: they become a part of the fixed filter. */
  readonly bound: SentParameters;
  /** Values that apply where a caller sends none. */
  readonly defaults: SentParameters;
  readonly order?: string;
  readonly columns?: readonly string[];
  readonly labels?: ListingDeclaration["labels"];
  readonly formats?: ListingDeclaration["formats"];
  readonly pageSize?: number;
}

/**
 * The declaration of a listing that is made from another: narrowed by bound values, which go on moving with the
 * clock where they did, and never wider. A parameter that is bound is none of it any more, nor is the other end
 * of its pair. It is not public, and has no feed or edits of columns that it does not show.
 *
 * Fails with the faults of {@link planRequest}, and `name.unknown` for a default of no parameter.
 */
export function savedListing(
  base: ListingDeclaration,
  view: SavedView,
  context: PlanContext,
): Result<ListingDeclaration> {
  const isBound = (parameters: readonly ParameterDeclaration[]) =>
    parameters.some((each) => namesOf(each).some((name) => view.bound.has(name)));
  const groups = shapeOf(base).groups;
  const bound = groups.filter(isBound).flat();
  const rest = base.parameters.filter((each) => !bound.includes(each));
  const faults = unknownNames(view, base, rest);
  if (faults.length > 0) return failure(...faults);
  const fixed = fixedOf(base, bound, view.bound, context);
  if (!fixed.ok) return fixed;
  const { name, title = base.title, columns, labels, formats, order, pageSize } = view;
  // Who may read it is said anew: its columns may be others.
  const { fixedFilter: _fixed, public: _public, filter, feed, editable, ...kept } = base;
  // One path is one listing's.
  const { endpoint: _endpoint, ...others } = kept;
  const shown = columns ?? base.columns;
  const isShown = (column: string) => shown.length === 0 || shown.includes(column);
  const keepsFeed = feed !== undefined && feedColumns(feed).every(isShown);
  return success({
    ...others,
    ...(keepsFeed ? { feed } : {}),
    ...(editable === undefined ? {} : { editable: editable.filter(isShown) }),
    name,
    title,
    basedOn: base.name,
    parameters: rest.map((each) => withDefault(each, view.defaults)),
    ...(filter === undefined || view.bound.has(COMPOUND) ? {} : { filter }),
    ...(fixed.value === null ? {} : { fixedFilter: fixed.value }),
    ...(columns === undefined ? {} : { columns }),
    ...(labels === undefined ? {} : { labels: { ...base.labels, ...labels } }),
    ...(formats === undefined ? {} : { formats: { ...base.formats, ...formats } }),
    ...(order === undefined ? {} : { order: { ...base.order, default: order } }),
    ...(pageSize === undefined ? {} : { page: { ...base.page, size: pageSize } }),
  });
}

/** Every name under which something can be sent for a parameter. */
function namesOf(parameter: ParameterDeclaration): readonly string[] {
  const { name } = parameter;
  const fields = takesDates(parameter) ? Object.values(parameter.fields ?? {}) : [];
  return [name, blankName(name), ...fields];
}

function unknownNames(
  { bound, defaults }: SavedView,
  base: ListingDeclaration,
  rest: readonly ParameterDeclaration[],
): readonly Fault[] {
  const all = [
    ...base.parameters.flatMap(namesOf),
    ...(base.filter === undefined ? [] : [COMPOUND]),
  ];
  const own = rest.map(({ name }) => name);
  const unknown = (path: string, names: Iterable<string>, known: readonly string[]) =>
    [...names]
      .filter((name) => !known.includes(name))
      .map((name) =>
        fault(
          "name.unknown",
          { what: "parameter", name, known: [...known] },
          { path: `${path}.${name}`, value: name },
        ),
      );
  return [...unknown("bound", bound.keys(), all), ...unknown("defaults", defaults.keys(), own)];
}

/** The fixed filter inside of which the bound values are; null for none. */
function fixedOf(
  base: ListingDeclaration,
  bound: readonly ParameterDeclaration[],
  sent: SentParameters,
  context: PlanContext,
): Result<string | null> {
  const { fixedFilter: fixed = null, fixedFilter: _fixed, ...others } = base;
  if (sent.size === 0) return success(fixed);
  const parameters = bound.map(
    ({ default: _default, required: _required, ...each }): ParameterDeclaration => each,
  );
  const planned = planRequest({ ...others, parameters }, sent, context);
  if (!planned.ok) return planned;
  const { query } = planned.value;
  const columns = withDerivedColumns(context.columns, base.derived ?? {});
  const own = cql2Text(cql2OfQuery(query, columns));
  return success(fixed === null ? own : `(${fixed}) AND (${own})`);
}

function withDefault(
  parameter: ParameterDeclaration,
  defaults: SentParameters,
): ParameterDeclaration {
  const values = defaults.get(parameter.name);
  if (values === undefined) return parameter;
  const [only = ""] = values;
  return { ...parameter, default: values.length === 1 ? only : values };
}
