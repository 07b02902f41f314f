import type { ListingDetails } from "@orisma/client";
import {
  cql2Text,
  filterInWords,
  readCql2,
  renderFault,
  type Catalogue,
  type WindowContext,
} from "@orisma/core/internal";
import { Plus, X } from "lucide-react";
import { useId, useState, type SubmitEvent } from "react";
import {
  COMPARISONS,
  expressionIn,
  expressionOf,
  newId,
  treeOf,
  type Leaf,
  type Tree,
} from "../conditions.js";
import { capitalised } from "../../dates/words.js";
import { isCompoundOn, type ShownColumn } from "../narrowing.js";
import { valueOf, withParameters, type PageState } from "../state.js";
import { valueLine, valuesIn } from "../value-line.js";

export interface TreeEditorProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly context: WindowContext;
  readonly onGo: (state: PageState) => void;
}

type Group = Extract<Tree, { kind: "all" | "any" }>;

/** A compound condition as a tree and as CQL2, two views of one thing: each follows the other. */
export default function TreeEditor({ listing, state, context, onGo }: TreeEditorProps) {
  const columns = listing.shown.filter(({ name }) => isCompoundOn(listing, name));
  const [text, setText] = useState(() => textForm(valueOf(state, "filter")));
  const [tree, setTree] = useState<Group>(() => groupOf(text) ?? emptyGroup());
  const id = useId();
  const told = tellOf(text, columns, context);
  const changeTree = (next: Group) => {
    setTree(next);
    const expression = expressionOf(next);
    setText(expression === null ? "" : cql2Text(expression));
  };
  const changeText = (next: string) => {
    setText(next);
    // What cannot be read yet leaves the tree as it was.
    const group = groupOf(next);
    if (group !== null) setTree(group);
  };
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onGo(withParameters(state, { filter: text.trim() }));
  };
  return (
    <form onSubmit={submit} className="grid items-start gap-6 lg:grid-cols-2">
      <section aria-label="As a tree" className="min-w-0">
        <h2 className="font-sentence text-xl">Conditions in groups</h2>
        <GroupEditor group={tree} columns={columns} onChange={changeTree} onRemove={null} />
      </section>
      <section aria-label="As CQL2" className="flex flex-col gap-2">
        <label htmlFor={id} className="font-sentence text-xl">
          The same in CQL2
        </label>
        <textarea
          id={id}
          className="textarea h-40 w-full font-mono aria-[invalid=true]:border-error"
          value={text}
          spellCheck={false}
          aria-invalid={told.isFault}
          aria-describedby={`${id}-told`}
          onChange={(event) => changeText(event.target.value)}
        />
        <p
          id={`${id}-told`}
          aria-live="polite"
          className={`min-h-12 ${told.isFault ? "text-error" : "opacity-90"}`}
        >
          {told.text}
        </p>
        <button type="submit" className="btn btn-primary self-start" disabled={told.isFault}>
          Show
        </button>
      </section>
    </form>
  );
}

function emptyGroup(): Group {
  return { id: newId(), kind: "all", negated: false, of: [] };
}

/** A condition that came as JSON, as text; any other as it is. */
function textForm(source: string): string {
  const expression = source.trimStart().startsWith("{") ? expressionIn(source) : null;
  return expression === null ? source : cql2Text(expression);
}

function groupOf(text: string): Group | null {
  if (text.trim() === "") return emptyGroup();
  const expression = expressionIn(text);
  if (expression === null) return null;
  const tree = treeOf(expression);
  return tree.kind === "leaf" ? { ...emptyGroup(), of: [tree] } : tree;
}

/** What a text keeps, in words, or what is wrong with it. */
function tellOf(
  text: string,
  columns: readonly ShownColumn[],
  context: WindowContext,
): { readonly text: string; readonly isFault: boolean } {
  if (text.trim() === "") return { text: "Nothing is asked for: every record.", isFault: false };
  const known: Catalogue = new Map(
    columns.map(({ name, type, kind }) => [
      name,
      type === "date" ? { name, type, kind: kind ?? "date" } : { name, type },
    ]),
  );
  const read = readCql2(textForm(text), { window: context, columns: known });
  if (read.ok) return { text: `Keeps: ${filterInWords(read.value)}.`, isFault: false };
  const message = read.faults
    .map(renderFault)
    .map(({ message: said, nearest }) => (nearest === undefined ? said : `${said}: ${nearest}?`))
    .join("; ");
  return { text: `${capitalised(message)}.`, isFault: true };
}

function GroupEditor(props: {
  readonly group: Group;
  readonly columns: readonly ShownColumn[];
  readonly onChange: (group: Group) => void;
  readonly onRemove: (() => void) | null;
}) {
  const { group, columns, onChange, onRemove } = props;
  const of = (next: readonly Tree[]) => onChange({ ...group, of: next });
  const replace = (id: number, next: Tree) =>
    of(group.of.map((each) => (each.id === id ? next : each)));
  const remove = (id: number) => of(group.of.filter((each) => each.id !== id));
  const way = `${group.negated ? "not " : ""}${group.kind}`;
  return (
    <fieldset className="mt-2 border-s-2 border-primary ps-3">
      <legend className="sr-only">Group</legend>
      <div className="flex items-center gap-2">
        <select
          className="select select-sm w-auto"
          aria-label="How this group holds"
          value={way}
          onChange={(event) => {
            const [kind = "all"] = event.target.value.split(" ").slice(-1);
            onChange({
              ...group,
              kind: kind === "any" ? "any" : "all",
              negated: event.target.value.startsWith("not"),
            });
          }}
        >
          <option value="all">all of</option>
          <option value="any">any of</option>
          <option value="not any">none of</option>
          <option value="not all">not all of</option>
        </select>
        {onRemove === null ? null : (
          <RemoveButton label="Take this group away" onClick={onRemove} />
        )}
      </div>
      <ul className="flex flex-col gap-1 py-1">
        {group.of.map((each) => (
          <li key={each.id}>
            {each.kind === "leaf" ? (
              <LeafEditor
                leaf={each.leaf}
                negated={each.negated}
                columns={columns}
                onChange={(leaf, negated) => replace(each.id, { ...each, leaf, negated })}
                onRemove={() => remove(each.id)}
              />
            ) : (
              <GroupEditor
                group={each}
                columns={columns}
                onChange={(next) => replace(each.id, next)}
                onRemove={() => remove(each.id)}
              />
            )}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => {
            const [first] = columns;
            if (first === undefined) return;
            const leaf = leafWith(hows(first.type)[0] ?? "blank", first.name);
            of([...group.of, { id: newId(), kind: "leaf", negated: false, leaf }]);
          }}
        >
          <Plus className="size-4" aria-hidden /> Condition
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() =>
            of([...group.of, { ...emptyGroup(), kind: group.kind === "all" ? "any" : "all" }])
          }
        >
          <Plus className="size-4" aria-hidden /> Group
        </button>
      </div>
    </fieldset>
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

/** A way of asking, as it is picked: with its negation. */
const WAYS: Readonly<Record<string, string>> = {
  window: "in the window",
  "not window": "not in the window",
  among: "one of",
  "not among": "none of",
  "compare =": "=",
  "not compare =": "not =",
  "compare <": "below",
  "compare <=": "at most",
  "compare >": "above",
  "compare >=": "at least",
  contains: "contains",
  "not contains": "does not contain",
  begins: "begins with",
  ends: "ends with",
  yes: "yes",
  "not yes": "no",
  dated: "with a value",
  "not dated": "without a value",
  blank: "blank",
  "not blank": "not blank",
  unreadable: "unreadable",
};

function hows(type: ShownColumn["type"]): readonly string[] {
  switch (type) {
    case "date":
      return ["window", "not window", "dated", "blank", "unreadable"];
    case "text":
      return ["among", "not among", "contains", "not contains", "begins", "ends", "dated", "blank"];
    case "boolean":
      return ["yes", "not yes", "dated", "blank", "unreadable"];
    case "integer":
    case "decimal":
      return [
        "compare >=",
        "compare <=",
        "compare >",
        "compare <",
        "compare =",
        "not compare =",
        "dated",
        "blank",
        "unreadable",
      ];
  }
}

function leafWith(way: string, column: string, text = "", folded = !way.endsWith("among")): Leaf {
  const [how, comparison] = way.replace(/^not /, "").split(" ");
  switch (how) {
    case "window":
      return { how, column, window: text };
    case "among":
      return { how, column, values: valuesIn(text), folded };
    case "contains":
    case "begins":
    case "ends":
      return { how, column, text, folded };
    case "compare": {
      const known = COMPARISONS.find((each) => each === comparison) ?? ">=";
      return { how, column, comparison: known, value: text };
    }
    case "yes":
    case "dated":
    case "unreadable":
      return { how, column };
    default:
      return { how: "blank", column };
  }
}

function textOf(leaf: Leaf): string | null {
  switch (leaf.how) {
    case "window":
      return leaf.window;
    case "among":
      return valueLine(leaf.values);
    case "compare":
      return leaf.value;
    case "contains":
    case "begins":
    case "ends":
    case "written":
      return leaf.text;
    default:
      return null;
  }
}

function LeafEditor(props: {
  readonly leaf: Leaf;
  readonly negated: boolean;
  readonly columns: readonly ShownColumn[];
  readonly onChange: (leaf: Leaf, negated: boolean) => void;
  readonly onRemove: () => void;
}) {
  const { leaf, negated, columns, onChange, onRemove } = props;
  // What is typed of a list has commas that its values do not.
  const [typed, setTyped] = useState(textOf(leaf) ?? "");
  if (leaf.how === "written") {
    return (
      <span className="flex items-center gap-2">
        <code className="bg-base-100 px-2 py-1 text-sm break-words">
          {negated ? `NOT (${leaf.text})` : leaf.text}
        </code>
        <RemoveButton label={`Take away: ${leaf.text}`} onClick={onRemove} />
      </span>
    );
  }
  const { column } = leaf;
  const type = columns.find(({ name }) => name === column)?.type ?? "text";
  const plain = leaf.how === "compare" ? `compare ${leaf.comparison}` : leaf.how;
  const way = `${negated ? "not " : ""}${plain}`;
  const ways = hows(type);
  // What was asked in this way keeps its letter case.
  const foldedOf = (nextWay: string) =>
    nextWay === way && "folded" in leaf ? leaf.folded : undefined;
  const change = (nextWay: string, nextColumn: string, text: string) =>
    onChange(leafWith(nextWay, nextColumn, text, foldedOf(nextWay)), nextWay.startsWith("not "));
  return (
    <span className="flex flex-wrap items-center gap-2">
      <select
        className="select select-sm w-auto"
        aria-label="Column"
        value={column}
        onChange={(event) => {
          const next = columns.find(({ name }) => name === event.target.value);
          if (next === undefined) return;
          setTyped("");
          change(hows(next.type)[0] ?? "blank", next.name, "");
        }}
      >
        {columns.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <select
        className="select select-sm w-auto"
        aria-label={`How ${column} is asked for`}
        value={way}
        onChange={(event) => change(event.target.value, column, typed)}
      >
        {(ways.includes(way) ? ways : [...ways, way]).map((each) => (
          <option key={each} value={each}>
            {WAYS[each] ?? each}
          </option>
        ))}
      </select>
      {textOf(leaf) === null ? null : (
        <input
          className="input input-sm w-48 font-mono"
          aria-label={`Value for ${column}`}
          placeholder={leaf.how === "among" ? "values, with commas between" : ""}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            change(way, column, event.target.value);
          }}
        />
      )}
      <RemoveButton label={`Take away the condition on ${column}`} onClick={onRemove} />
    </span>
  );
}
