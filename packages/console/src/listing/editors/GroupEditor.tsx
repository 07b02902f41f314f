import type { ListingDetails } from "@orisma/client";
import {
  queryOfTyped,
  renderFault,
  replacePart,
  typedCondition,
  type Query,
  type TypedCondition,
} from "@orisma/core/internal";
import { Plus, X } from "lucide-react";
import { filterReading, filterText, typed } from "../conditions.js";
import { ConditionEditor, firstComparison } from "./ConditionEditor.js";

/** What is typed of parts that is no condition yet, by the id of the part. */
export type Drafts = ReadonlyMap<string, TypedCondition>;

export interface GroupEditorProps {
  /** A group, or its negation. */
  readonly part: Query;
  /** The query that it is a part of. */
  readonly whole: Query;
  readonly drafts: Drafts;
  readonly listing: ListingDetails;
  readonly onChange: (whole: Query, drafts: Drafts) => void;
}

/** The parts of a group, one below the other, with groups in it. */
export function GroupEditor(props: GroupEditorProps) {
  const { part, whole, drafts, listing, onChange } = props;
  const id = part.id ?? TOP;
  const { kind, of, isNegated } = groupIn(part);
  const change = (next: Query | null, nextDrafts = drafts) =>
    onChange(replacePart(whole, id, next), nextDrafts);
  const add = (each: Query, draft?: TypedCondition) => {
    const next = new Map(drafts);
    if (draft !== undefined && each.id !== undefined) next.set(each.id, draft);
    change(groupOf(id, kind, [...of, each], isNegated), next);
  };
  return (
    <fieldset className="mt-2 border-s-2 border-primary ps-3">
      <legend className="sr-only">Group</legend>
      <div className="flex items-center gap-2">
        <select
          className="select select-sm w-auto"
          aria-label="How the group combines"
          value={`${isNegated ? "not " : ""}${kind}`}
          onChange={({ target: { value } }) =>
            change(groupOf(id, value.endsWith("any") ? "any" : "all", of, value.startsWith("not ")))
          }
        >
          <option value="all">all of</option>
          <option value="any">any of</option>
          <option value="not any">none of</option>
          <option value="not all">not all of</option>
        </select>
        {part === whole ? null : (
          <RemoveButton label="Remove this group" onClick={() => change(null)} />
        )}
      </div>
      <ul className="flex flex-col gap-1 py-1">
        {of.map((each) => (
          <li key={each.id}>
            {isGroup(each) && !drafts.has(each.id ?? "") ? (
              <GroupEditor {...props} part={each} />
            ) : (
              <PartEditor {...props} part={each} />
            )}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => {
            const [first] = listing.filterColumns;
            if (first === undefined) return;
            add(placeholder("any"), typed(first.name, firstComparison(first.type)));
          }}
        >
          <Plus className="size-4" aria-hidden /> Condition
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => add(placeholder(kind === "all" ? "any" : "all"))}
        >
          <Plus className="size-4" aria-hidden /> Group
        </button>
      </div>
    </fieldset>
  );
}

/** A condition on one column, or any other as it is written. */
function PartEditor({ part, whole, drafts, listing, onChange }: GroupEditorProps) {
  const id = part.id ?? "";
  const remove = () => onChange(replacePart(whole, id, null), drafts);
  const condition = drafts.get(id) ?? typedCondition(part);
  if (condition === null) {
    const text = filterText(part, listing);
    return (
      <span className="flex items-center gap-2">
        <code className="bg-base-100 px-2 py-1 text-sm break-words">{text}</code>
        <RemoveButton label={`Remove: ${text}`} onClick={remove} />
      </span>
    );
  }
  const reading = filterReading(listing);
  const draft = drafts.get(id);
  const read = draft === undefined ? null : queryOfTyped(draft, reading);
  const faults = read === null || read.ok ? [] : read.faults.map(renderFault);
  const change = (next: TypedCondition) => {
    const found = queryOfTyped(next, reading);
    const nextDrafts = new Map(drafts);
    if (found.ok && found.value !== null) {
      nextDrafts.delete(id);
      onChange(replacePart(whole, id, { ...found.value, id }), nextDrafts);
    } else {
      nextDrafts.set(id, next);
      onChange(replacePart(whole, id, { ...placeholder("any"), id }), nextDrafts);
    }
  };
  return (
    <span className="flex flex-wrap items-center gap-2">
      <ConditionEditor condition={condition} columns={listing.filterColumns} onChange={change} />
      <RemoveButton label={`Remove the condition on ${condition.column}`} onClick={remove} />
      {faults.map(({ message }) => (
        <span key={message} className="w-full text-sm text-error">
          {message}
        </span>
      ))}
    </span>
  );
}

function RemoveButton(props: { readonly label: string; readonly onClick: () => void }) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      aria-label={props.label}
      onClick={props.onClick}
    >
      <X className="size-4" aria-hidden />
    </button>
  );
}

/** The id of a group around a query that is none. */
const TOP = "top";

type GroupKind = "all" | "any";

function isGroup(part: Query): boolean {
  return part.kind === "not" ? isGroup(part.of) : part.kind === "all" || part.kind === "any";
}

/** A query that is a group, or its negation; any other in a group of its own. */
export function asGroup(query: Query): Query {
  if (isGroup(query)) return query.id === undefined ? { ...query, id: TOP } : query;
  return { kind: "all", id: TOP, of: [query] };
}

function groupIn(part: Query): {
  readonly kind: GroupKind;
  readonly of: readonly Query[];
  readonly isNegated: boolean;
} {
  if (part.kind === "not") {
    const inner = groupIn(part.of);
    return { ...inner, isNegated: !inner.isNegated };
  }
  const isKnown = part.kind === "all" || part.kind === "any";
  return isKnown
    ? { kind: part.kind, of: part.of, isNegated: false }
    : { kind: "all", of: [part], isNegated: false };
}

function groupOf(id: string, kind: GroupKind, of: readonly Query[], isNegated: boolean): Query {
  return isNegated ? { kind: "not", id, of: { kind, id: `${id}.0`, of } } : { kind, id, of };
}

let placeholders = 0;

/** A part that says nothing yet: a new group, or a condition of which nothing is typed. */
function placeholder(kind: GroupKind): Query {
  return { kind, id: `${PLACEHOLDER}${++placeholders}`, of: [] };
}

const PLACEHOLDER = "new.";

/** A query without the parts that say nothing yet; null for one that says nothing at all. */
export function withoutPlaceholders(query: Query, drafts: Drafts): Query | null {
  if (drafts.has(query.id ?? "")) return null;
  switch (query.kind) {
    case "all":
    case "any": {
      // What is written as TRUE or FALSE is a group of nothing too.
      const isWritten = query.id?.startsWith(PLACEHOLDER) !== true && query.id !== TOP;
      if (query.of.length === 0) return isWritten ? query : null;
      const of = query.of.flatMap((each) => withoutPlaceholders(each, drafts) ?? []);
      return of.length === 0 ? null : { ...query, of };
    }
    case "not": {
      const of = withoutPlaceholders(query.of, drafts);
      return of === null ? null : { ...query, of };
    }
    default:
      return query;
  }
}
