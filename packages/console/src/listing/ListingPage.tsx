import { OrismaError, type ListingDetails } from "@orisma/client";
import {
  dayOf,
  epochMs,
  findZone,
  momentOf,
  UTC,
  wallAt,
  type CalendarSettings,
  type Clause,
  type RecordsAnswer,
  type WindowContext,
} from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { lazy, startTransition, useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { useCommands, type Command } from "../frame/commands.js";
import { Folded } from "../frame/Folded.js";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { Pending, Stopped } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { useCalendar } from "../dates/calendars.js";
import { useMay } from "../service/session.js";
import { Answer, cursorOf } from "./Answer.js";
import { canRemove, clausesAsked, extentClauses, withoutClause } from "./clauses.js";
import { Editors } from "./Editors.js";
import { AGAIN_MS, Away, Failure, failureOf, isUnreachable } from "./Failure.js";
import { narrowable } from "./narrowing.js";
import { Sentence, type Opened } from "./Sentence.js";
import { cleared, searchOf, stateOf, valueOf, type PageState } from "./state.js";

const Summary = lazy(() => import("./Summary.js"));
const Understanding = lazy(() => import("./Understanding.js"));
const WhyRecord = lazy(() => import("./WhyRecord.js"));

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
  const [opened, setOpenedNow] = useState<Opened | null>(null);
  const setOpened = (next: Opened | null) => {
    // What can be asked of a column is much: it is drawn piece by piece, and the page goes on
    // answering. All else is there at once, for the key that is pressed right after.
    if (next?.kind === "column") startTransition(() => setOpenedNow(next));
    else setOpenedNow(next);
  };
  // What is open stays open when something else is asked for.
  const go = (next: PageState) => {
    void navigate({ search: searchOf(next).toString(), hash });
  };
  const extras = listing.formats === undefined ? EXTRAS : `${EXTRAS},display`;
  const records = useQuery({
    meta: { doing: `Asking for the records of ${listing.title}` },
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
  const { context, today } = clockOf(
    listing,
    useCalendar(listing.calendar),
    valueOf(state, "asOf"),
  );
  const order = valueOf(state, "order") || listing.order.default;
  const clauses = [
    ...extentClauses(listing, answer),
    ...(answer?.meta.clauses ?? clausesAsked(listing, state)),
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
    { name: "Why a record is in or out", run: () => void navigate({ search, hash: "#record" }) },
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
            applied={isCurrent ? answer.meta.values : undefined}
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
        {records.isPending ? (
          <Pending query={records} height="h-96" />
        ) : (
          <Stopped query={records} />
        )}
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
          <Folded
            place="#record"
            open="Why a record is in or out"
            close="Put the question of a record away"
          >
            <WhyRecord key={searchOf(state).toString()} listing={listing} state={state} />
          </Folded>
          {mayExplain ? <Declared name={listing.name} /> : null}
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
      ) : mayExplain && listing.broken !== undefined ? (
        <Declared name={listing.name} />
      ) : null}
    </>
  );
}

function Declared({ name }: { readonly name: string }) {
  return (
    <p className="mt-6 border-t border-base-300 pt-4">
      <Link to={`/declare/${name}`} className="link font-sentence text-xl">
        Change what is declared
      </Link>
    </p>
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
const EXTRAS = "unfiltered,extent,clauses,why";

/** The clock that a page goes by, and the day that it is there without another one asked for. */
function clockOf(
  listing: ListingDetails,
  calendar: CalendarSettings,
  asked: string,
): { readonly context: WindowContext; readonly today: number } {
  const zone = findZone(listing.zone);
  const known = zone.ok ? zone.value : UTC;
  // To the second, which is as fine as people tell the time.
  const now = { asOf: epochMs(Math.floor(Date.now() / 1_000) * 1_000), zone: known };
  const then = momentOf(new Map([["asOf", [asked]]]), ["asOf"], now);
  return {
    context: { ...(then.ok ? then.value : now), calendar },
    today: dayOf(wallAt(known, now.asOf)),
  };
}
