import { withNearest } from "../dates/words.js";
import { OrismaError, type NewListing, type SourceDescription } from "@orisma/client";
import {
  DeclarationUnread,
  declarationOf,
  declarationText,
  readDeclarationText,
  type DeclarationText,
  type TextPlace,
} from "@orisma/client/declaration";
import type { DeclarationDifference, RenderedFault } from "@orisma/core/internal";
import {
  keepPreviousData,
  useQuery,
  useQueryClient,
  type UseQueryResult,
} from "@tanstack/react-query";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { OWN_ZONE } from "../dates/zones.js";
import { DeclarationForm } from "./DeclarationForm.js";
import { useSavedDraft } from "./draft.js";
import { Preview, callersParameters } from "./Preview.js";
import { ReadyCalls } from "./ReadyCalls.js";

/** Declares a listing: a form and its file, two views of one text, checked as it changes. */
export default function DeclarePage() {
  const { name } = useParams();
  const [search] = useSearchParams();
  const sources = useQuery({
    queryKey: ["sources"],
    queryFn: ({ signal }) => service.sources(signal),
  });
  const listing = useQuery({
    queryKey: ["listing", name],
    queryFn: ({ signal }) => service.listing(name ?? "", signal),
    enabled: name !== undefined,
  });
  useEffect(() => {
    document.title = "Declare – Orisma";
  }, []);
  const failure = sources.error ?? listing.error;
  // What is held of before may not have the source that was brought a moment ago.
  const isReady =
    sources.isFetchedAfterMount &&
    sources.data !== undefined &&
    (name === undefined || (listing.isFetchedAfterMount && listing.data !== undefined));
  return (
    <Frame>
      {failure !== null ? (
        <Message kind="error" title="Cannot declare a listing">
          {failure.message}
        </Message>
      ) : !isReady ? (
        <div className="skeleton h-96 w-full" />
      ) : (
        <Declaring
          key={name ?? ""}
          sources={sources.data}
          serves={name ?? null}
          begun={
            listing.data === undefined
              ? firstText(sources.data, search.get("source"))
              : declarationText(listing.data.name, declarationOf(listing.data))
          }
        />
      )}
    </Frame>
  );
}

/** Three lines are enough: everything else has a default. */
function firstText(sources: readonly SourceDescription[], wanted: string | null): string {
  const dated = sources.filter(({ columns }) => columns.some(({ type }) => type === "date"));
  const source = dated.find(({ name }) => name === wanted) ?? dated[0];
  const mainDate = source?.columns.find(({ type }) => type === "date")?.name ?? "";
  return declarationText(source === undefined ? "" : `${source.name}-listed`, {
    source: source?.name ?? "",
    mainDate,
    // The days of whoever declares, which the file says so that nobody has to know it.
    ...(OWN_ZONE === "UTC" ? {} : { zone: OWN_ZONE }),
  });
}

/** A declaration without what a form could not show, since a file may say anything. */
function shaped(declaration: NewListing): NewListing {
  const isObject = (value: unknown): value is object =>
    typeof value === "object" && value !== null && !Array.isArray(value);
  const fits = ([name, value]: readonly [string, unknown]) => {
    if (["order", "page", "filter"].includes(name)) return isObject(value);
    if (["columns", "parameters"].includes(name)) return Array.isArray(value);
    return (
      !["title", "zone", "fixedFilter", "mainDate"].includes(name) || typeof value === "string"
    );
  };
  const known = Object.fromEntries(
    Object.entries(declaration).filter(fits),
  ) as unknown as NewListing;
  const { parameters } = known;
  if (parameters === undefined) return known;
  const named = parameters.filter((each) => isObject(each) && typeof each.name === "string");
  return { ...known, parameters: named };
}

interface Read {
  readonly read: DeclarationText | null;
  readonly unread: { readonly message: string; readonly place: TextPlace } | null;
}

/** Milliseconds without a key until a text is checked. */
const DELAY_MS = 400;

/** A text once it was left alone for a moment. */
function useDelayed(text: string): string {
  const [delayed, setDelayed] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setDelayed(text), DELAY_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return delayed;
}

function readText(text: string): Read {
  try {
    return { read: readDeclarationText(text), unread: null };
  } catch (error) {
    if (error instanceof DeclarationUnread) return { read: null, unread: error };
    throw error;
  }
}

function Declaring(props: {
  readonly sources: readonly SourceDescription[];
  /** The listing that is changed; null for a new one. */
  readonly serves: string | null;
  readonly begun: string;
}) {
  const { sources, serves, begun } = props;
  const draft = useSavedDraft(serves ?? "", begun);
  const { text, change: setText } = draft;
  const delayed = useDelayed(text);
  const { read, unread } = readText(text);
  const checked = readText(delayed).read;
  const navigate = useNavigate();
  const queries = useQueryClient();
  const check = useQuery({
    meta: { doing: "Checking the declaration" },
    queryKey: ["check", delayed],
    queryFn: ({ signal }) => {
      if (checked === null) throw new Error("the file cannot be read");
      return service.checkListing(checked.name, checked.declaration, signal);
    },
    enabled: checked !== null && checked.name !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const [failure, setFailure] = useState<string | null>(null);
  const faults = faultsOf(check);
  const source = sources.find(({ name }) => name === read?.declaration.source);
  const declare = async () => {
    if (read === null) return;
    setFailure(null);
    try {
      await service.declareListing(read.name, read.declaration);
      draft.discard();
      await queries.invalidateQueries();
      void navigate(`/listings/${read.name}`);
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
  };
  const isWrong = read === null || read.name === "" || check.isError;
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const shown = read === null || isWrong ? null : shaped(read.declaration);
  const columns = source?.columns ?? [];
  const parameters = shown === null ? [] : callersParameters(shown, columns);
  return (
    <>
      <h1 className="font-sentence text-2xl">
        {serves === null ? "Declare a listing" : `Change the listing ${serves}`}
      </h1>
      {draft.isFromBefore ? (
        <div className="mt-3">
          <Message kind="info" title="Draft restored">
            It was not declared.{" "}
            <button type="button" className="link" onClick={draft.discard}>
              Start over
            </button>
          </Message>
        </div>
      ) : null}
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] items-start gap-x-10 gap-y-8 lg:grid-cols-2">
        {read === null ? (
          <Message kind="notice" title="The file cannot be read">
            Correct the file to use the form.
          </Message>
        ) : (
          <DeclarationForm
            text={text}
            name={read.name}
            declaration={shaped(read.declaration)}
            sources={sources}
            source={source}
            faults={faults}
            onText={setText}
          />
        )}
        <DeclarationFile
          text={text}
          read={read}
          unread={unread}
          check={check}
          isWrong={isWrong}
          isReady={!check.isFetching && text === delayed}
          failure={failure}
          onText={setText}
          onDeclare={() => void declare()}
        >
          {shown === null || checked === null ? null : (
            <Preview
              name={checked.name}
              declaration={checked.declaration}
              columns={columns}
              parameters={parameters}
              values={values}
              isCurrent={text === delayed && check.isSuccess && !check.isPlaceholderData}
              onValues={setValues}
            />
          )}
        </DeclarationFile>
      </div>
      {read === null || shown === null ? null : (
        <ReadyCalls name={read.name} parameters={parameters} values={values} />
      )}
    </>
  );
}

/** Lines of the file that are in sight. */
const [MIN_LINES, MAX_LINES] = [5, 9];

/** The file of a declaration, what is wrong with it, and what it would change. */
function DeclarationFile(
  props: Read & {
    readonly text: string;
    readonly check: UseQueryResult<DeclarationDifference>;
    readonly isWrong: boolean;
    /** Whether the text was checked as it is now. */
    readonly isReady: boolean;
    readonly failure: string | null;
    readonly onText: (text: string) => void;
    readonly onDeclare: () => void;
    readonly children: ReactNode;
  },
) {
  const { text, read, unread, check, isWrong, isReady, failure, onText, onDeclare } = props;
  const faults = faultsOf(check);
  const area = useRef<HTMLTextAreaElement>(null);
  const goTo = ({ line, column }: TextPlace) => {
    const before = text.split("\n").slice(0, line - 1);
    const at = before.reduce((sum, each) => sum + each.length + 1, 0) + column - 1;
    const [rest = ""] = text.slice(at).split("\n");
    area.current?.focus();
    area.current?.setSelectionRange(at, at + rest.length);
  };
  return (
    <section aria-label="The file" className="min-w-0">
      <label htmlFor="file" className="font-medium">
        The file, in YAML or JSON
      </label>
      <textarea
        ref={area}
        id="file"
        rows={Math.min(MAX_LINES, Math.max(MIN_LINES, text.split("\n").length))}
        className="textarea min-h-0 w-full font-mono leading-snug whitespace-pre aria-[invalid=true]:border-error"
        spellCheck={false}
        value={text}
        aria-invalid={isWrong}
        aria-describedby="file-hint"
        onChange={(event) => onText(event.target.value)}
      />
      <div id="file-hint" aria-live="polite" className="mt-1 min-h-6">
        <Told
          unread={unread}
          faults={faults}
          other={faults.length === 0 ? (check.error?.message ?? null) : null}
          placeOf={read?.placeOf ?? null}
          onGo={goTo}
        />
        {isWrong || check.data === undefined ? null : <Difference difference={check.data} />}
      </div>
      <button
        type="button"
        className="btn btn-primary mt-2"
        disabled={isWrong || !isReady}
        onClick={onDeclare}
      >
        Declare
      </button>
      {failure === null ? null : (
        <p role="alert" className="mt-2 text-error">
          {failure}
        </p>
      )}
      {props.children}
    </section>
  );
}

function faultsOf({ error }: UseQueryResult<DeclarationDifference>): readonly RenderedFault[] {
  return error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
}

/** What a declaration would change, in words and on the records of today. */
function Difference({ difference }: { readonly difference: DeclarationDifference }) {
  return (
    <ul>
      {difference.isNew ? <li>This is a new listing.</li> : null}
      {difference.changes.map((change) => (
        <li key={change}>{change}</li>
      ))}
      {difference.breaks.map((broken) => (
        <li key={broken} className="font-semibold text-error">
          Breaks: {broken}.
        </li>
      ))}
      {difference.remarks.map((remark) => (
        <li key={remark} className="font-semibold">
          {remark}.
        </li>
      ))}
      {difference.records === null ? null : (
        <li>
          Without filters: {difference.records.added.total ?? "?"} records added,{" "}
          {difference.records.removed.total ?? "?"} removed.
        </li>
      )}
    </ul>
  );
}

/** Each fault with its place, which leads there. */
function Told(props: {
  readonly unread: Read["unread"];
  readonly faults: readonly RenderedFault[];
  readonly other: string | null;
  readonly placeOf: DeclarationText["placeOf"] | null;
  readonly onGo: (place: TextPlace) => void;
}) {
  const { unread, faults, other, placeOf, onGo } = props;
  const returned =
    unread !== null
      ? [{ message: unread.message, place: unread.place }]
      : faults.map(({ message, path = "", nearest }) => ({
          message: withNearest(message, nearest),
          place: placeOf?.(path) ?? { line: 1, column: 1 },
        }));
  return (
    <ul className="text-error">
      {other === null ? null : <li>{other}</li>}
      {returned.map(({ message, place }) => (
        <li key={`${place.line} ${message}`}>
          <button type="button" className="link text-start" onClick={() => onGo(place)}>
            line {place.line}, column {place.column}
          </button>
          : {message}
        </li>
      ))}
    </ul>
  );
}
