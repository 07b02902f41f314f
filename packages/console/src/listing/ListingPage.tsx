import { OrismaError, type ListingDetails, type ProblemDocument } from "@orisma/client";
import {
  dayOf,
  epochMs,
  findZone,
  UTC,
  wallAt,
  type Clause,
  type RecordsAnswer,
  type WindowContext,
} from "@orisma/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ArrowLeft, ArrowRight } from "lucide-react";
import { Suspense, lazy, useEffect, useState, type ReactNode } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { useCommands, type Command } from "../frame/commands.js";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";
import { useMay } from "../session.js";
import { canRemove, clausesAsked, extentClauses, withoutClause } from "./clauses.js";
import { countText } from "./counts.js";
import { Downloads } from "./Downloads.js";
import { Editors } from "./Editors.js";
import { canNarrow, narrowable, parametersOn, shownIn, withoutColumn } from "./narrowing.js";
import { RecordTable } from "./RecordTable.js";
import { Ribbon } from "./Ribbon.js";
import { Sentence, type Opened } from "./Sentence.js";
import { cleared, searchOf, stateOf, valueOf, withParameters, type PageState } from "./state.js";

const AnotherDay = lazy(() => import("./AnotherDay.js"));
const Summary = lazy(() => import("./Summary.js"));
const Understanding = lazy(() => import("./Understanding.js"));

/** A listing's page: its sentence, its records, and what there is to tell about them. */
export function ListingPage() {
  const { name = "" } = useParams();
  const listing = useQuery({
    queryKey: ["listing", name],
    queryFn: ({ signal }) => service.listing(name, signal),
  });
  useEffect(() => {
    if (listing.data !== undefined) document.title = `${listing.data.title} – Orisma`;
  }, [listing.data]);
  return (
    <Frame>
      {listing.isError ? (
        <Message kind="error" title="This listing cannot be shown">
          {listing.error.message}
        </Message>
      ) : listing.data === undefined ? (
        <div className="skeleton h-96 w-full" />
      ) : (
        <Listing key={name} listing={listing.data} />
      )}
    </Frame>
  );
}

function Listing({ listing }: { readonly listing: ListingDetails }) {
  const [parameters] = useSearchParams();
  const state = stateOf(parameters);
  const { hash, search } = useLocation();
  const navigate = useNavigate();
  const [opened, setOpened] = useState<Opened | null>(null);
  // What is open stays open when something else is asked for.
  const go = (next: PageState) => {
    void navigate({ search: searchOf(next).toString(), hash });
  };
  const extras = listing.formats === undefined ? EXTRAS : `${EXTRAS},display`;
  const records = useQuery({
    queryKey: ["records", listing.name, listing.version, searchOf(state).toString()],
    queryFn: ({ signal }) => service.records(listing.name, { ...state, with: extras }, signal),
    placeholderData: keepPreviousData,
    // It is asked again until it answers.
    refetchInterval: ({ state: { error } }) => (isUnreachable(error) ? AGAIN_MS : false),
  });
  const mayExplain = useMay("maker");
  const problem = records.error instanceof OrismaError ? records.error.problem : null;
  const [held, setHeld] = useState<RecordsAnswer>();
  if (records.isSuccess && records.data !== held) setHeld(records.data);
  // Where the service cannot be reached the last good answer stays, with its time.
  const isAway = records.isError && isUnreachable(records.error);
  const answer = records.isError ? (isAway ? held : undefined) : records.data;
  const isCurrent = answer !== undefined && !records.isPlaceholderData && !isAway;
  const { context, today } = clockOf(listing, valueOf(state, "asOf"));
  const order = valueOf(state, "order") || listing.order.default;
  const clauses = [
    ...extentClauses(listing, answer),
    ...(answer?.meta.clauses ?? clausesAsked(listing, state, problem)),
  ];
  const mainLabel = listing.labels?.[listing.mainDate] ?? listing.mainDate;
  useCommands([
    { name: "Add to the sentence", key: "/", run: () => setOpened({ kind: "add" }) },
    {
      name: `Change the dates: ${mainLabel}`,
      key: "d",
      run: () => setOpened({ kind: "column", column: listing.mainDate }),
    },
    { name: "Columns shown", key: "c", run: () => setOpened({ kind: "columns" }) },
    { name: "Change the order", key: "o", run: () => setOpened({ kind: "order" }) },
    { name: "Back to the start", key: "b", run: () => go(cleared(state, listing)) },
    ...narrowable(listing).map(({ name: column }) => ({
      name: `Narrow by ${listing.labels?.[column] ?? column}`,
      run: () => setOpened({ kind: "column", column }),
    })),
    ...pageCommands(answer, (link) => go({ ...state, cursor: [cursorOf(link)] })),
    { name: "Count them together", run: () => void navigate({ search, hash: "#together" }) },
    ...(mayExplain
      ? [
          {
            name: "How this was understood",
            run: () => void navigate({ search, hash: "#understood" }),
          },
        ]
      : []),
  ]);
  const remove = (clause: Clause) => go(withoutClause(state, listing, clause));
  return (
    <>
      <Sentence
        listing={listing}
        clauses={clauses}
        opened={opened}
        canAdd={narrowable(listing).length + listing.parameters.length > 0}
        isNarrowed={searchOf(cleared(state, listing)).size < searchOf(state).size}
        canRemove={(clause) => canRemove(clause, listing, state)}
        onOpen={setOpened}
        onRemove={remove}
        onClear={() => go(cleared(state, listing))}
      >
        {opened === null ? null : (
          <Editors
            listing={listing}
            opened={opened}
            state={state}
            order={order}
            windows={isCurrent ? answer.meta.windows : undefined}
            extents={answer?.meta.shown}
            context={context}
            today={today}
            failureOf={(name) => failureOf(problem, name)}
            onOpen={setOpened}
            onGo={go}
          />
        )}
      </Sentence>
      <section
        aria-label="Answer"
        aria-busy={records.isFetching}
        className={records.isPlaceholderData ? "opacity-70" : ""}
      >
        {isAway ? (
          <Away
            error={records.error}
            answer={answer}
            isAsking={records.isFetching}
            onAgain={() => void records.refetch()}
          />
        ) : records.isError ? (
          <Failure error={records.error} />
        ) : null}
        {records.isPending ? <div className="skeleton mt-4 h-96 w-full" /> : null}
        {answer === undefined ? null : (
          <Answer
            listing={listing}
            state={state}
            answer={answer}
            order={order}
            today={today}
            onGo={go}
            onEdit={(column) => setOpened({ kind: "column", column })}
            onColumns={() => setOpened({ kind: "columns" })}
          />
        )}
      </section>
      {problem === null ? (
        <>
          <Folded place="#together" open="Count them together" close="Put the figures away">
            <Summary listing={listing} state={state} />
          </Folded>
          {mayExplain ? (
            <p className="mt-6 border-t border-base-300 pt-4">
              <Link to={`/declare/${listing.name}`} className="link font-sentence text-xl">
                Change what is declared
              </Link>
            </p>
          ) : null}
          {mayExplain ? (
            <Folded
              place="#understood"
              open="How this was understood, and how it is run"
              close="Put the explanation away"
            >
              <Understanding listing={listing} state={state} clauses={answer?.meta.clauses ?? []} />
            </Folded>
          ) : null}
        </>
      ) : null}
    </>
  );
}

function pageCommands(
  answer: RecordsAnswer | undefined,
  onPage: (link: string) => void,
): readonly Command[] {
  const { next, previous } = answer?.links ?? {};
  return [
    ...(next === undefined
      ? []
      : [{ name: "The next page of records", key: "n", run: () => onPage(next) }]),
    ...(previous === undefined
      ? []
      : [{ name: "The page of records before", key: "p", run: () => onPage(previous) }]),
  ];
}

/** What is asked for beside the records. */
const EXTRAS = "unfiltered,extent,clauses";

/** The clock that a page goes by, and the day that it is there without another one asked for. */
function clockOf(
  listing: ListingDetails,
  asked: string,
): { readonly context: WindowContext; readonly today: number } {
  const zone = findZone(listing.zone);
  const known = zone.ok ? zone.value : UTC;
  const now = Date.now();
  const then = Date.parse(asked.length === 10 ? `${asked}T12:00:00Z` : asked);
  const asOf = epochMs(Number.isNaN(then) ? now : then);
  const today = dayOf(wallAt(known, epochMs(now)));
  return { context: { asOf, zone: known }, today };
}

/** Opens and closes a part of the page; the address says so, so that a link shows it. */
function Folded(props: {
  readonly place: string;
  readonly open: string;
  readonly close: string;
  readonly children: ReactNode;
}) {
  const { hash, search } = useLocation();
  const isOpen = hash === props.place;
  return (
    <section className="mt-6 border-t border-base-300 pt-4">
      <h2 className="mb-4 font-sentence text-xl">
        <Link
          to={{ search, hash: isOpen ? "" : props.place }}
          className="link"
          role="button"
          aria-expanded={isOpen}
          preventScrollReset
        >
          {isOpen ? props.close : props.open}
        </Link>
      </h2>
      {isOpen ? (
        <Suspense fallback={<div className="skeleton h-64 w-full" />}>{props.children}</Suspense>
      ) : null}
    </section>
  );
}

function Answer(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly answer: RecordsAnswer;
  readonly order: string;
  readonly today: number;
  readonly onGo: (state: PageState) => void;
  readonly onEdit: (column: string) => void;
  readonly onColumns: () => void;
}) {
  const { listing, state, answer, order, today, onGo, onEdit, onColumns } = props;
  const { meta, records, links } = answer;
  const { mainDate } = listing;
  const isByDate = order === mainDate || order === `-${mainDate}`;
  const blanks = parametersOn(listing, mainDate)[0];
  return (
    <>
      <div className="my-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-y border-base-300 py-2">
        <p aria-live="polite" className="text-lg font-semibold tabular-nums">
          {countText(meta)}
        </p>
        <p className="min-w-0 flex-1 basis-96 text-sm opacity-90">{meta.sentence}</p>
      </div>
      <Clock listing={listing} state={state} today={today} onGo={onGo} />
      <div className="mb-4 flex flex-col gap-2 empty:hidden">
        {meta.notices.map(({ code, message }) => (
          <Message key={`${code} ${message}`} kind="notice">
            {capitalised(message)}.
          </Message>
        ))}
      </div>
      <div className="flex flex-col items-start gap-6 sm:flex-row">
        <Ribbon
          listing={listing}
          state={state}
          windows={meta.windows}
          newestFirst={!isByDate || order.startsWith("-")}
          page={isByDate ? pageDates(answer, mainDate) : null}
          onGo={onGo}
          onBlank={
            blanks === undefined || !canNarrow(listing, mainDate)
              ? null
              : () =>
                  onGo(
                    withParameters(withoutColumn(state, listing, mainDate), {
                      [`${blanks.name}.blank`]: "only",
                    }),
                  )
          }
        />
        <div className="w-full min-w-0 flex-1">
          {records.length === 0 ? (
            <Message kind="info" title="No record lies in this window">
              Searched: {meta.sentence}
            </Message>
          ) : (
            <RecordTable
              listing={listing}
              columns={shownIn(listing, state)}
              state={state}
              answer={answer}
              order={order}
              onOrder={(next) => onGo(withParameters(state, { order: next }))}
              onGo={onGo}
              onEdit={onEdit}
            />
          )}
          <div className="mt-4 flex flex-wrap items-center justify-between gap-4">
            <Pager links={links} onPage={(link) => onGo({ ...state, cursor: [cursorOf(link)] })} />
            <button type="button" className="link" onClick={onColumns}>
              Columns shown
            </button>
            <Downloads listing={listing} state={state} />
          </div>
          <p className="mt-2 text-sm opacity-90">
            {extentText(answer)} Read at {new Date(meta.readAt).toLocaleTimeString()}.
          </p>
        </div>
      </div>
    </>
  );
}

/** The control that moves the clock, for those who may. */
function Clock(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly today: number;
  readonly onGo: (state: PageState) => void;
}) {
  const { listing, state } = props;
  const [isOpen, setOpen] = useState(valueOf(state, "asOf") !== "");
  const least = listing.permits?.asOf ?? "maker";
  const may = useMay(least === "nobody" ? "owner" : least);
  if (!may || least === "nobody") return null;
  return (
    <div className="mb-4">
      <button
        type="button"
        className="link"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        {isOpen ? "Put the other day away" : "As it is on another day"}
      </button>
      {isOpen ? (
        <Suspense fallback={<div className="skeleton h-24 w-full" />}>
          <AnotherDay {...props} />
        </Suspense>
      ) : null}
    </div>
  );
}

/** The dates of the first and the last record of a page that have one. */
function pageDates({ records }: RecordsAnswer, mainDate: string): readonly [string, string] | null {
  const dates = records.flatMap((record) => {
    const value = record[mainDate];
    return typeof value === "string" ? [value] : [];
  });
  const [first, last] = [dates[0], dates.at(-1)];
  return first === undefined || last === undefined ? null : [first, last];
}

function extentText({ meta: { extent } }: RecordsAnswer): string {
  if (extent?.first == null || extent.last === null) return "";
  return `From ${dateText(extent.first)} to ${dateText(extent.last)}.`;
}

function dateText(text: string): string {
  const isDay = !text.includes("T");
  const date = new Date(isDay ? `${text}T00:00:00Z` : text);
  return date.toLocaleDateString(undefined, {
    dateStyle: "long",
    ...(isDay ? { timeZone: "UTC" } : {}),
  });
}

function Pager(props: {
  readonly links: RecordsAnswer["links"];
  readonly onPage: (link: string) => void;
}) {
  const { previous, next } = props.links;
  if (previous === undefined && next === undefined) return <span />;
  const { onPage } = props;
  return (
    <nav aria-label="Pages of records" className="flex gap-2">
      <button
        type="button"
        className="btn btn-sm"
        disabled={previous === undefined}
        onClick={() => previous !== undefined && onPage(previous)}
      >
        <ArrowLeft className="size-4 rtl:rotate-180" aria-hidden /> Previous
      </button>
      <button
        type="button"
        className="btn btn-sm"
        disabled={next === undefined}
        onClick={() => next !== undefined && onPage(next)}
      >
        Next <ArrowRight className="size-4 rtl:rotate-180" aria-hidden />
      </button>
    </nav>
  );
}

/** How a date can be written, for whoever wrote one that cannot be read. */
const EXAMPLES = "2025-02-28, 2025-02, 2025, today or month-1";

/** What the service found wrong with a parameter. */
function failureOf(problem: ProblemDocument | null, name: string): string | null {
  const found = problem?.faults.find(({ parameter }) => parameter === name);
  if (found === undefined) return null;
  const { message, nearest, code } = found;
  const told = /[.?]$/.test(message) ? message : `${message}.`;
  if (nearest === undefined) {
    return code.startsWith("date.") ? `${told} Write it as ${EXAMPLES}.` : told;
  }
  return message.includes(nearest) ? told : `${told} Write ${nearest}.`;
}

/** Milliseconds until a service that is away is asked again. */
const AGAIN_MS = 5_000;

function isUnreachable(error: Error | null): boolean {
  return error instanceof OrismaError && [0, 502, 503, 504].includes(error.status);
}

/** Says that the service is away, and of when what is shown is. */
function Away(props: {
  readonly error: Error | null;
  readonly answer: RecordsAnswer | undefined;
  readonly isAsking: boolean;
  readonly onAgain: () => void;
}) {
  const { error, answer, isAsking, onAgain } = props;
  return (
    <div className="my-4">
      <Message kind="error" title="The service does not answer">
        <p>
          {error instanceof OrismaError && error.status === 503
            ? error.message
            : "It may be starting, or the connection is gone."}{" "}
          {answer === undefined
            ? "It is asked again by itself."
            : `What stands below was read at ${new Date(answer.meta.readAt).toLocaleTimeString()}; it is asked again by itself.`}
        </p>
        <button type="button" className="btn btn-sm mt-2" disabled={isAsking} onClick={onAgain}>
          Ask again now
        </button>
      </Message>
    </div>
  );
}

/** A failure in plain words: each fault, and what to do. */
function Failure({ error }: { readonly error: Error }) {
  const faults = error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
  const isAsked = error instanceof OrismaError && error.status === 422;
  return (
    <div className="my-4">
      <Message
        kind="error"
        title={
          isAsked
            ? "Nothing was searched, because of what was asked"
            : "The records could not be read"
        }
      >
        {faults.length === 0 ? error.message : null}
        {faults.map(({ message, parameter, nearest }) => (
          <p key={`${parameter ?? ""} ${message}`}>
            {parameter === undefined ? "" : `${parameter}: `}
            {capitalised(message)}.{nearest === undefined ? "" : ` Did you mean “${nearest}”?`}
          </p>
        ))}
      </Message>
    </div>
  );
}

function cursorOf(link: string): string {
  return new URLSearchParams(link.split("?", 2)[1] ?? "").get("cursor") ?? "";
}

function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
