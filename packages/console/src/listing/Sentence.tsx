import type { ListingDetails } from "@orisma/client";
import type { Clause } from "@orisma/core/internal";
import { Plus, X } from "lucide-react";
import { useEffect, useRef, type ReactNode } from "react";
import { ClauseEditor } from "./ClauseEditor.js";
import { canNarrow } from "./narrowing.js";

/** What is being changed: a clause, or what is to be added. */
export type Opened =
  | { readonly kind: "column"; readonly column: string }
  | { readonly kind: "search"; readonly parameter: string }
  | { readonly kind: "tree" }
  | { readonly kind: "order" }
  | { readonly kind: "columns" }
  | { readonly kind: "add" };

export interface SentenceProps {
  readonly listing: ListingDetails;
  readonly clauses: readonly Clause[];
  readonly opened: Opened | null;
  /** Whether there is anything that can be requested besides. */
  readonly canAdd: boolean;
  readonly isNarrowed: boolean;
  /** Whether a clause can be taken away: what must be given cannot. */
  readonly canRemove: (clause: Clause) => boolean;
  readonly onOpen: (opened: Opened | null) => void;
  readonly onRemove: (clause: Clause) => void;
  readonly onClear: () => void;
  /** Takes the last reset back; null where there is none. */
  readonly onUndo: (() => void) | null;
  /** The editor of what is opened. */
  readonly children: ReactNode;
}

/** The listing as a sentence: each clause opens its own editor beneath it, over what it changes. */
export function Sentence(props: SentenceProps) {
  const { listing, clauses, opened, onOpen, onRemove, onClear } = props;
  const said = clauses.filter(({ parameters }) => !parameters.includes("order"));
  const order = clauses.find(({ parameters }) => parameters.includes("order"));
  const { mainDate, labels = {} } = listing;
  const isDated = said.some(({ column }) => column === mainDate);
  const place = useRef<HTMLDivElement>(null);
  const focused = useRef<HTMLElement | null>(null);
  const standIn = useRef<HTMLElement | null>(null);
  // What had the focus may be gone with what it said, as an editor with what it applied: then the clause that was
  // opened has it, as soon as it is there, and another one until then.
  const lastOpened = useRef<string | null>(null);
  useEffect(() => {
    if (opened !== null) {
      lastOpened.current = JSON.stringify(opened);
      return;
    }
    const isGone = focused.current?.isConnected === false;
    const isNowhere = document.activeElement === document.body && isGone;
    if (!isNowhere && document.activeElement !== standIn.current) return;
    const all = [...(place.current?.querySelectorAll<HTMLElement>("[data-opens]") ?? [])];
    const own = all.find(({ dataset }) => dataset.opens === lastOpened.current);
    standIn.current = own === undefined ? (all.at(-1) ?? null) : null;
    (own ?? standIn.current)?.focus();
  });
  return (
    <div
      ref={place}
      onFocus={({ target }) => {
        focused.current = target;
      }}
      onBlur={({ target }) => {
        if (target.isConnected) focused.current = null;
      }}
      role="group"
      dir="auto"
      aria-label="What is shown"
      className="relative font-sentence text-lg leading-7 md:text-[1.375rem] md:leading-9"
    >
      <h1 className="inline font-semibold">{listing.title}</h1>
      {isDated || !canNarrow(listing, mainDate) ? null : (
        <>
          {", "}
          <ClauseButton
            opened={{ kind: "column", column: mainDate }}
            current={opened}
            onOpen={onOpen}
            words={`${labels[mainDate] ?? mainDate} at any time`}
          />
        </>
      )}
      {said.map((clause) => (
        <span key={keyOf(clause)}>
          {", "}
          {clause.isFixed === true ? (
            <span title="This condition is the listing's own">{clause.words}</span>
          ) : (
            <ClauseButton
              opened={openedBy(clause)}
              current={opened}
              onOpen={onOpen}
              words={clause.words}
            />
          )}
          {props.canRemove(clause) ? (
            <button
              type="button"
              className="ms-0.5 inline-flex size-6 cursor-pointer items-center justify-center rounded-full align-middle opacity-70 hover:bg-base-300 hover:opacity-100"
              aria-label={`Remove: ${clause.words}`}
              title="Remove"
              onClick={() => onRemove(clause)}
            >
              <X className="size-4" aria-hidden />
            </button>
          ) : null}
        </span>
      ))}
      {props.canAdd ? (
        <>
          {", "}
          <ClauseButton
            opened={{ kind: "add" }}
            current={opened}
            onOpen={onOpen}
            words="add a condition"
          />
        </>
      ) : null}
      {order === undefined ? null : (
        <>
          {", "}
          <ClauseButton
            opened={{ kind: "order" }}
            current={opened}
            onOpen={onOpen}
            words={order.words}
          />
        </>
      )}
      {"."}
      {props.isNarrowed ? (
        <button type="button" className="link ms-4 font-sans text-base" onClick={onClear}>
          Reset filters
        </button>
      ) : null}
      {props.onUndo === null ? null : (
        <button
          type="button"
          className="link ms-4 font-sans text-base"
          title="Ctrl+Z"
          onClick={props.onUndo}
        >
          Undo reset
        </button>
      )}
      {opened === null ? null : (
        <ClauseEditor key={JSON.stringify(opened)} onClose={() => onOpen(null)}>
          {props.children}
        </ClauseEditor>
      )}
    </div>
  );
}

function ClauseButton(props: {
  readonly opened: Opened;
  readonly current: Opened | null;
  readonly words: string;
  readonly onOpen: (opened: Opened | null) => void;
}) {
  const { opened, current, words, onOpen } = props;
  const isOpen = JSON.stringify(opened) === JSON.stringify(current);
  const toggle = () => onOpen(isOpen ? null : opened);
  // A button could not be broken where its line ends, as words are.
  return (
    <span
      role="button"
      tabIndex={0}
      data-opens={JSON.stringify(opened)}
      className="cursor-pointer rounded-sm bg-base-200 box-decoration-clone px-1 py-0.5 text-primary underline decoration-accent decoration-2 underline-offset-4 hover:bg-base-300 hover:decoration-4 aria-expanded:bg-base-300 aria-expanded:decoration-4"
      aria-expanded={isOpen}
      onClick={toggle}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        toggle();
      }}
    >
      {opened.kind === "add" ? (
        <Plus className="me-1 inline size-4 align-[-0.1em]" aria-hidden />
      ) : null}
      {words}
    </span>
  );
}

/** Which editor a clause opens. */
export function openedBy({ column, parameters }: Clause): Opened {
  if (column !== null) return { kind: "column", column };
  const [parameter = ""] = parameters;
  return parameter === "filter" ? { kind: "tree" } : { kind: "search", parameter };
}

/** The same before and after there is an answer, so that whoever is at a clause stays there. */
function keyOf({ parameters, id = "filter.0", column, isFixed, words }: Clause): string {
  if (isFixed === true) return `fixed ${words}`;
  return parameters.length === 0 ? `of ${column ?? ""}` : `${parameters.join(" ")} ${id}`;
}
