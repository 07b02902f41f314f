import { FAULT_MEANINGS, fault, oneOf, type Fault } from "../faults/index.js";
import type { EndpointDeclaration, ListingDeclaration } from "./declaration.js";
import { ENDPOINT_PARTS } from "./endpoint-parts.js";
import { parameterNames } from "./parameter-names.js";
import type { SentParameters } from "./sent.js";

/** What an answer is shaped of. */
export interface EndpointAnswer {
  readonly records: readonly Readonly<Record<string, unknown>>[];
  readonly total: number | null;
  readonly totalExact: boolean;
  readonly next: string | null;
  readonly previous: string | null;
  readonly sentence: string;
  readonly notices: readonly string[];
}

const SEGMENT = /^(?:[A-Za-z0-9._~-]+|\{[A-Za-z][A-Za-z0-9_-]*\})$/;

/** The segments of a path; a parameter stands in braces. */
function segmentsOf(path: string): readonly string[] {
  return path.split("/").slice(1);
}

/** A path without the names of its parameters: two that are alike here take the same requests. */
export function pathShape(path: string): string {
  return segmentsOf(path)
    .map((each) => (each.startsWith("{") ? "{}" : each))
    .join("/");
}

/** The values of the parameters in a path; null for a path of another endpoint. */
export function matchPath(path: string, sent: string): Readonly<Record<string, string>> | null {
  const [wanted, found] = [segmentsOf(path), segmentsOf(sent)];
  if (wanted.length !== found.length) return null;
  const values: Record<string, string> = {};
  for (const [index, each] of wanted.entries()) {
    const segment = found[index] ?? "";
    const name = /^\{(.+)\}$/.exec(each)?.[1];
    if (name === undefined ? each !== segment : segment === "") return null;
    if (name !== undefined) values[name] = segment;
  }
  return values;
}

/** How exactly a path says which requests are its own: one that has fewer parameters comes first. */
export function literalSegments(path: string): number {
  return segmentsOf(path).filter((each) => !each.startsWith("{")).length;
}

/** The columns that an endpoint sends, by the names that they have there; null for all under their own. */
export function endpointFields({
  fields,
}: EndpointDeclaration): ReadonlyMap<string, string> | null {
  return fields === undefined ? null : new Map(Object.entries(fields));
}

/**
 * Reads a request to an endpoint of its own as one to the listing: the values in its path, and the names that it has
 * for the order and the page. The total is counted to the end where the answer has it, and else not at all.
 *
 * Returns with what could be read every fault beside it: `parameter.conflict` for a value that is sent in the path and
 * beside it, `order.unknown` for a field that is none, and `parameter.value` for a direction that is none, or has no
 * field.
 */
export function endpointRequest(
  listing: ListingDeclaration,
  endpoint: EndpointDeclaration,
  inPath: Readonly<Record<string, string>>,
  sent: SentParameters,
): { readonly sent: SentParameters; readonly faults: readonly Fault[] } {
  const { order, paging, answer } = endpoint;
  const native = new Map<string, readonly string[]>();
  const faults: Fault[] = [];
  const own = new Set([order?.field, order?.direction, ...Object.values(paging ?? {})]);
  for (const [name, values] of sent) {
    if (own.has(name)) continue;
    if (name in inPath) {
      const facts = { first: `${name} in the path`, second: name };
      faults.push(fault("parameter.conflict", facts, { parameter: name }));
    } else native.set(name, values);
  }
  for (const [name, value] of Object.entries(inPath)) native.set(name, [value]);
  const ordered = order === undefined ? null : orderOf(listing, endpoint, sent, faults);
  if (ordered !== null) native.set("order", [ordered]);
  for (const [part, name] of Object.entries(paging ?? {})) {
    const values = sent.get(name);
    if (values !== undefined) native.set(part === "limit" ? "size" : part, values);
  }
  // Without a number they would be pages by cursor.
  if (paging?.offset !== undefined && !native.has("offset")) native.set("offset", ["0"]);
  if (paging?.page !== undefined && !native.has("page")) native.set("page", ["1"]);
  const hasTotal = typeof answer === "object" && answer.total !== undefined;
  native.set("total", [hasTotal ? "exact" : "none"]);
  const columns = endpointFields(endpoint);
  if (columns !== null) {
    native.set(
      "columns",
      [...columns.keys()].filter((name) => name !== "id"),
    );
  }
  return { sent: native, faults };
}

function orderOf(
  listing: ListingDeclaration,
  endpoint: EndpointDeclaration,
  sent: SentParameters,
  faults: Fault[],
): string | null {
  const { order, fields = {} } = endpoint;
  if (order === undefined) return null;
  const { field: fieldName, direction: directionName } = order;
  const [field = ""] = sent.get(fieldName) ?? [];
  const [direction = ""] = directionName === undefined ? [] : (sent.get(directionName) ?? []);
  const words = [order.ascending ?? "asc", order.descending ?? "desc"];
  const found = words.findIndex((each) => each.toLowerCase() === direction.trim().toLowerCase());
  if (direction.trim() !== "" && found < 0) {
    const place = { parameter: directionName ?? "", value: direction };
    faults.push(fault("parameter.value", oneOf(direction, words), place));
  }
  if (field.trim() === "") {
    if (direction.trim() === "") return null;
    const accepted = `${fieldName} beside it, which says what is ordered`;
    const place = { parameter: directionName ?? "", value: direction };
    faults.push(fault("parameter.value", { accepted }, place));
    return null;
  }
  const outside = new Map(listing.order.allowed.map((name) => [fields[name] ?? name, name]));
  const column = outside.get(field.trim());
  if (column === undefined) {
    const allowed = [...outside.keys()];
    const place = { parameter: fieldName, value: field };
    faults.push(fault("order.unknown", { name: field.trim(), allowed }, place));
    return null;
  }
  return found === 1 ? `-${column}` : column;
}

/** The name that a parameter of the listing has at an endpoint. */
export function endpointName({ order, paging }: EndpointDeclaration, parameter: string): string {
  if (parameter === "order") return order?.field ?? parameter;
  if (parameter === "size") return paging?.limit ?? parameter;
  if (parameter === "offset" || parameter === "page") return paging?.[parameter] ?? parameter;
  return parameter;
}

/** An answer in the shape that an endpoint declares. */
export function endpointAnswer(endpoint: EndpointDeclaration, found: EndpointAnswer): unknown {
  const { answer = { records: "records" } } = endpoint;
  const fields = endpointFields(endpoint);
  const records =
    fields === null
      ? found.records
      : found.records.map((record) =>
          Object.fromEntries([...fields].map(([column, name]) => [name, record[column] ?? null])),
        );
  if (answer === "list") return records;
  return Object.fromEntries(
    ENDPOINT_PARTS.flatMap((part) => {
      const name = answer[part];
      return name === undefined ? [] : [[name, part === "records" ? records : found[part]]];
    }),
  );
}

/** The text that an endpoint has for a fault in a language; null where it has none of its own. */
export function endpointMessage(
  { messages = {} }: EndpointDeclaration,
  language: string | null,
  found: Fault,
): string | null {
  const text = messages[language ?? "*"]?.[found.code] ?? messages["*"]?.[found.code];
  return (
    text
      ?.replaceAll("{value}", found.value ?? "")
      .replaceAll("{parameter}", found.parameter ?? "") ?? null
  );
}

/** The faults of an endpoint of its own, each with its place. */
export function endpointFaults(
  listing: ListingDeclaration,
  showable: ReadonlyMap<string, unknown>,
): readonly Fault[] {
  const { endpoint } = listing;
  if (endpoint === undefined) return [];
  const { path, order, paging = {}, fields = {}, messages = {} } = endpoint;
  const invalid = (name: string, reason: string, place: string) =>
    fault("parameter.setting", { name, reason }, { path: `endpoint.${place}`, value: name });
  const segments = segmentsOf(path);
  const isPath = path.startsWith("/api/") && segments.every((each) => SEGMENT.test(each));
  const inPath = segments.flatMap((each) => /^\{(.+)\}$/.exec(each)?.[1] ?? []);
  const declared = listing.parameters.map(({ name }) => name);
  const own = [order?.field, order?.direction, ...Object.values(paging)].filter(
    (name) => name !== undefined,
  );
  const taken = [...parameterNames(listing).filter((name) => !NATIVE.has(name)), "cursor"];
  const shown = listing.columns.length > 0 ? listing.columns : [...showable.keys()];
  const names = Object.values(fields);
  return [
    ...(isPath
      ? []
      : [invalid(path, "a path begins with /api/ and has parameters in braces", "path")]),
    ...inPath.flatMap((name) =>
      declared.includes(name)
        ? []
        : [
            fault(
              "name.unknown",
              { what: "parameter", name, known: declared },
              { path: "endpoint.path" },
            ),
          ],
    ),
    ...own.flatMap((name, index) =>
      taken.includes(name) || own.indexOf(name) < index
        ? [invalid(name, "something else has this name", "paging")]
        : [],
    ),
    ...(paging.page !== undefined && paging.offset !== undefined
      ? [invalid("page", "pages are counted, or the records before them: not both", "paging.page")]
      : []),
    ...Object.keys(fields).flatMap((name) =>
      name === "id" || shown.includes(name)
        ? []
        : [
            fault(
              "column.unknown",
              { name, known: shown },
              { path: `endpoint.fields.${name}`, value: name },
            ),
          ],
    ),
    ...names.flatMap((name, index) =>
      names.indexOf(name) < index ? [invalid(name, "two fields have this name", "fields")] : [],
    ),
    ...Object.entries(messages).flatMap(([language, byCode]) =>
      Object.keys(byCode).flatMap((name) => {
        const known = Object.keys(FAULT_MEANINGS);
        const place = { path: `endpoint.messages.${language}`, value: name };
        return known.includes(name)
          ? []
          : [fault("name.unknown", { what: "code", name, known }, place)];
      }),
    ),
  ];
}

/** Names of the listing's own that an endpoint may give another meaning. */
const NATIVE: ReadonlySet<string> = new Set([
  "order",
  "size",
  "page",
  "offset",
  "total",
  "columns",
]);
