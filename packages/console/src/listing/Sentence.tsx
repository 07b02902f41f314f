import type { ListingDetails } from "@orisma/client";
import type { Clause } from "@orisma/core/internal";
import { X } from "lucide-react";
import { useEffect, useEffectEvent, useRef, type ReactNode } from "react";

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
  /** The editor of what is opened. */
  readonly children: ReactNode;
}

/** The listing as a sentence: each clause opens its own editor below it. */
export function Sentence(props: SentenceProps) {
  const { listing, clauses, opened, onOpen, onRemove, onClear } = props;
  const said = clauses.filter(({ parameters }) => !parameters.includes("order"));
  const order = clauses.find(({ parameters }) => parameters.includes("order"));
  return (
    <div
      role="group"
      dir="auto"
      aria-label="What is shown"
      className="font-sentence text-2xl leading-relaxed"
    >
      <h1 className="inline font-semibold">{listing.title}</h1>
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
          {" "}
          <ClauseButton
            opened={{ kind: "add" }}
            current={opened}
            onOpen={onOpen}
            words={"and\u00a0…"}
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
      {opened === null ? null : (
        <Editor key={JSON.stringify(opened)} onClose={() => onOpen(null)}>
          {props.children}
        </Editor>
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
      className="cursor-pointer text-primary underline decoration-accent decoration-2 underline-offset-4 hover:decoration-4 aria-expanded:bg-base-200 aria-expanded:decoration-4"
      aria-expanded={isOpen}
      onClick={toggle}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        toggle();
      }}
    >
      {words}
    </span>
  );
}

/** Where a clause is changed; closing it changes nothing, and leads back to the clause. */
function Editor(props: { readonly onClose: () => void; readonly children: ReactNode }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const first = place.current?.querySelector<HTMLElement>("[data-first], input, select, button");
    first?.focus();
  }, []);
  const close = () => {
    const clause = place.current?.parentElement?.querySelector<HTMLElement>("[aria-expanded=true]");
    props.onClose();
    clause?.focus();
  };
  // What had the focus may be gone with an answer: the page has it then.
  const closeFromPage = useEffectEvent((event: KeyboardEvent) => {
    if (event.key === "Escape" && document.activeElement === document.body) close();
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => closeFromPage(event);
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
  return (
    <div
      ref={place}
      role="group"
      aria-label="Change"
      className="my-3 max-w-6xl border-s-4 border-accent bg-base-200 p-4 font-sans text-base leading-normal"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        close();
      }}
    >
      {props.children}
    </div>
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
