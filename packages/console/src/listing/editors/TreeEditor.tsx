import type { ListingDetails } from "@orisma/client";
import {
  ANY_RECORD,
  filterInWords,
  readCql2,
  renderFault,
  type Query,
  type PhraseContext,
} from "@orisma/core/internal";
import { useId, useState, type SubmitEvent } from "react";
import { capitalised, withNearest } from "../../dates/words.js";
import { filterReading, filterText, queryIn } from "../conditions.js";
import { valueOf, withParameters, type PageState } from "../state.js";
import { GroupEditor, asGroup, withoutPlaceholders, type Drafts } from "./GroupEditor.js";

export interface TreeEditorProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  /** The clock and the zone, and the language in which dates may be written as people write them. */
  readonly context: PhraseContext;
  readonly onGo: (state: PageState) => void;
}

const NO_DRAFTS: Drafts = new Map();

/** A compound condition as a tree and as CQL2, two views of one query: each follows the other. */
export default function TreeEditor({ listing, state, context, onGo }: TreeEditorProps) {
  const [text, setText] = useState(() => textForm(valueOf(state, "filter"), listing));
  const [query, setQuery] = useState<Query>(
    () => queryOf(text, listing, context) ?? asGroup(ANY_RECORD),
  );
  const [drafts, setDrafts] = useState(NO_DRAFTS);
  const id = useId();
  const said = sayOf(text, listing, context);
  const changeTree = (next: Query, nextDrafts: Drafts) => {
    setQuery(asGroup(next));
    setDrafts(nextDrafts);
    const whole = withoutPlaceholders(next, nextDrafts);
    setText(whole === null ? "" : filterText(whole, listing));
  };
  const changeText = (next: string) => {
    setText(next);
    // What cannot be read yet leaves the tree as it was.
    const read = queryOf(next, listing, context);
    if (read === null) return;
    setQuery(read);
    setDrafts(NO_DRAFTS);
  };
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onGo(withParameters(state, { filter: textToSend(text.trim(), listing, context) }));
  };
  return (
    <form onSubmit={submit} className="grid items-start gap-6 lg:grid-cols-2">
      <section aria-label="As a tree" className="min-w-0">
        <h2 className="font-sentence text-xl">Conditions in groups</h2>
        <GroupEditor
          part={query}
          whole={query}
          drafts={drafts}
          listing={listing}
          onChange={changeTree}
        />
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
          aria-invalid={said.isFault}
          aria-describedby={`${id}-said`}
          onChange={(event) => changeText(event.target.value)}
        />
        <p
          id={`${id}-said`}
          aria-live="polite"
          className={`min-h-12 ${said.isFault ? "text-error" : "opacity-90"}`}
        >
          {said.text}
        </p>
        <button type="submit" className="btn btn-primary self-start" disabled={said.isFault}>
          Apply
        </button>
      </section>
    </form>
  );
}

/** The query of a text as a group; null where it cannot be read. */
function queryOf(text: string, listing: ListingDetails, phrases: PhraseContext): Query | null {
  if (text.trim() === "") return asGroup(ANY_RECORD);
  const query = queryIn(text, listing, phrases);
  return query === null ? null : asGroup(query);
}

/** A filter as the service takes it: phrases as the windows that they mean. */
function textToSend(text: string, listing: ListingDetails, phrases: PhraseContext): string {
  if (text === "" || queryIn(text, listing) !== null) return text;
  const query = queryIn(text, listing, phrases);
  return query === null ? text : filterText(query, listing);
}

/** A condition that came as JSON, as text; any other as it is. */
function textForm(source: string, listing: ListingDetails): string {
  const query = source.trimStart().startsWith("{") ? queryIn(source, listing) : null;
  return query === null ? source : filterText(query, listing);
}

/** What a text keeps, in words, or what is wrong with it. */
function sayOf(
  text: string,
  listing: ListingDetails,
  window: PhraseContext,
): { readonly text: string; readonly isFault: boolean } {
  if (text.trim() === "") return { text: "No conditions: every record.", isFault: false };
  const { columns, named } = filterReading(listing);
  const read = readCql2(textForm(text, listing), {
    window,
    columns,
    caller: "the caller",
    ...(named && { named }),
    phrases: window.locale ?? true,
  });
  if (read.ok) return { text: `Keeps: ${filterInWords(read.value)}.`, isFault: false };
  const message = read.faults
    .map(renderFault)
    .map(({ message: words, nearest }) => withNearest(words, nearest))
    .join("; ");
  return { text: `${capitalised(message)}.`, isFault: true };
}
