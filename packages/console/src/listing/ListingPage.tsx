import type { ListingDetails } from "@orisma/client";
import {
  dayOf,
  epochMs,
  findZone,
  momentOf,
  UTC,
  wallAt,
  type CalendarSettings,
  type Clause,
  phraseLocale,
  type PhraseContext,
  type RenderedFault,
} from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { startTransition, useEffect, useState, type ReactNode } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { Pending, Stopped } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { useCalendar } from "../dates/calendars.js";
import { useMay } from "../service/session.js";
import { Answer, RECORDS_TOP, cursorOf } from "./Answer.js";
import { ChangedContext, type Changed } from "./changes.js";
import { ChangedMessage } from "./ChangedMessage.js";
import { canRemove, requestedClauses, extentClauses, withoutClause } from "./clauses.js";
import { Editors } from "./Editors.js";
import { Away, Failure, failureOf } from "./Failure.js";
import { narrowable } from "./narrowing.js";
import { Sentence, type Opened } from "./Sentence.js";
import { suggestionsFor } from "./suggestions.js";
import { useListingCommands } from "./useListingCommands.js";
import { useRecords } from "./useRecords.js";
import { usePutRight } from "./reversed.js";
import { useReset } from "./useReset.js";
import { searchOfView, useRecent, useViews } from "./views/views.js";
import { corrected, searchOf, stateOf, valueOf, withParameters, type PageState } from "./state.js";

/** A listing's page: its sentence, its records, and what there is to know about them. */
export function ListingPage() {
  const { name = "" } = useParams();
  const listing = useQuery({
    queryKey: ["listing", name],
    queryFn: ({ signal }) => service.listing(name, signal),
  });
  const isOpening = useOpeningView(name);
  useEffect(() => {
    if (listing.data !== undefined) document.title = `${listing.data.title} – Orisma`;
  }, [listing.data]);
  return (
    <Frame saysAway={listing.data !== undefined}>
      {listing.isError ? (
        <Message kind="error" title="This listing cannot be shown">
          {listing.error.message}
        </Message>
      ) : listing.data === undefined || isOpening ? (
        <div className="skeleton h-96 w-full" />
      ) : (
        <Listing key={name} listing={listing.data} />
      )}
    </Frame>
  );
}

/**
 * Goes to the view that a listing opens with, where its address says nothing else; whether that is still to be found
 * out. What cannot be found out keeps nobody from the records.
 */
function useOpeningView(name: string): boolean {
  const { search, hash } = useLocation();
  const navigate = useNavigate();
  const [opened, setOpened] = useState<string | null>(search === "" ? null : name);
  const views = useViews(name);
  useEffect(() => {
    if (opened === name || views.isPending) return;
    const view = search === "" ? views.data?.find(({ isDefault }) => isDefault) : undefined;
    if (view !== undefined) void navigate({ search: searchOfView(view), hash }, { replace: true });
    setOpened(name);
  }, [opened, name, views.isPending, views.data, search, hash, navigate]);
  return opened !== name;
}

function Listing({ listing }: { readonly listing: ListingDetails }) {
  const [parameters] = useSearchParams();
  const state = stateOf(parameters);
  const { hash, search } = useLocation();
  const navigate = useNavigate();
  const [changed, setChanged] = useState<Changed | null>(null);
  const [opened, setOpenedNow] = useState<Opened | null>(null);
  const setOpened = (next: Opened | null) => {
    // A column has many conditions to choose from: they are drawn piece by piece, and the page goes on
    // answering. All else is there at once, for the key that is pressed right after.
    if (next?.kind === "column") startTransition(() => setOpenedNow(next));
    else setOpenedNow(next);
  };
  // What is open stays open when something else is requested.
  const go = (next: PageState) => {
    void navigate({ search: searchOf(next).toString(), hash });
  };
  const { reset, undo } = useReset(state, go);
  const { records, problem, answer, isAway, current } = useRecords(listing, state);
  const mayExplain = useMay("author");
  const views = useViews(listing.name);
  const { context, today } = clockOf(
    listing,
    useCalendar(listing.calendar),
    valueOf(state, "asOf"),
  );
  const order = valueOf(state, "order") || listing.order.default;
  const clauses = [
    ...extentClauses(listing, answer),
    ...(answer?.meta.clauses ?? requestedClauses(listing, state)),
  ];
  const isNow = answer !== undefined && !records.isPlaceholderData;
  useRecent(listing, state, isNow ? wordsOf(answer.meta.clauses ?? []) : null);
  const swapped = usePutRight(listing, state, isNow ? answer.meta : null, (next) =>
    navigate({ search: searchOf(next).toString(), hash }, { replace: true }),
  );
  // A page is read from its first record on.
  const turnTo = (link: string | null) => {
    const { cursor: _here, ...first } = state;
    go(link === null ? first : { ...first, cursor: [cursorOf(link)] });
    document.getElementById(RECORDS_TOP)?.scrollIntoView();
  };
  useListingCommands({
    listing,
    answer,
    mayExplain,
    onOpen: setOpened,
    onClear: reset,
    onPage: turnTo,
    onGoTo: (place) => void navigate({ search, hash: place }),
    views: views.data ?? [],
    onView: (view) => void navigate({ search: searchOfView(view) }),
    suggest: (text) =>
      suggestionsFor(text, listing, state, context).map(({ name, to }) => ({
        name,
        run: () => {
          if ("state" in to) go(to.state);
          else void navigate({ search, hash: to.place });
        },
      })),
  });
  // What is applied closes its editor; where it is refused, it is there again with what was typed.
  const [applied, setApplied] = useState<{ opened: Opened; search: string } | null>(null);
  const apply = (next: PageState) => {
    go(next);
    // Columns are picked one by one.
    if (opened === null || opened.kind === "columns") return;
    setApplied({ opened, search: searchOf(next).toString() });
    setOpenedNow(null);
  };
  const isAnswered = !records.isFetching && !records.isPlaceholderData;
  if (applied !== null && isAnswered && applied.search === searchOf(state).toString()) {
    setApplied(null);
    if (problem !== null && !isAway) setOpenedNow(applied.opened);
  }
  const remove = (clause: Clause) => go(withoutClause(state, listing, clause));
  return (
    <ChangedContext value={setChanged}>
      <Sentence
        listing={listing}
        clauses={clauses}
        opened={opened}
        canAdd={narrowable(listing).length + listing.parameters.length > 0}
        isNarrowed={searchOf(withParameters(state, {})).size > 0}
        canRemove={(clause) => canRemove(clause, listing, state)}
        onOpen={setOpened}
        onRemove={remove}
        onClear={reset}
        onUndo={undo}
      >
        {opened === null ? null : (
          <Editors
            listing={listing}
            opened={opened}
            state={state}
            order={order}
            windows={current?.meta.windows}
            applied={current?.meta.values}
            extents={answer?.meta.shown}
            context={context}
            today={today}
            failureOf={(name) => failureOf(problem, name)}
            onOpen={setOpened}
            onGo={apply}
          />
        )}
      </Sentence>
      {changed === null ? null : (
        <ChangedMessage
          key={`${changed.words} ${changed.edit ?? ""}`}
          listing={listing.name}
          changed={changed}
          onClose={() => setChanged(null)}
        />
      )}
      <AnswerSection
        records={records}
        answer={answer}
        isAway={isAway}
        onTake={(fault, meant) => go(corrected(state, fault, meant))}
      >
        {/* Until then the answer before says so itself. */}
        {swapped === null || !isNow ? null : <Message kind="notice">{swapped}.</Message>}
        {answer === undefined ? null : (
          <Answer
            listing={listing}
            state={state}
            answer={answer}
            order={order}
            today={today}
            context={context}
            mayExplain={mayExplain}
            onGo={go}
            onPage={turnTo}
            onEdit={(column) => setOpened({ kind: "column", column })}
            onColumns={() => setOpened({ kind: "columns" })}
          />
        )}
      </AnswerSection>
      {problem !== null && mayExplain && listing.broken !== undefined ? (
        <p className="mt-6">
          <Link to={`/declare/${listing.name}`} className="btn btn-sm">
            Edit the declaration
          </Link>
        </p>
      ) : null}
    </ChangedContext>
  );
}

function wordsOf(clauses: readonly Clause[]): string {
  return clauses.map(({ words }) => words).join(", ");
}

/** The answer, or why there is none now. */
function AnswerSection(
  props: Pick<ReturnType<typeof useRecords>, "records" | "answer" | "isAway"> & {
    readonly onTake: (fault: RenderedFault, meant: string) => void;
    readonly children: ReactNode;
  },
) {
  const { records, answer, isAway, onTake, children } = props;
  return (
    <section
      aria-label="Answer"
      aria-busy={records.isFetching}
      className={records.isPlaceholderData ? "opacity-70" : ""}
    >
      {isAway ? (
        <Away
          error={records.error}
          answer={answer}
          isLoading={records.isFetching}
          onAgain={() => void records.refetch()}
        />
      ) : records.isError ? (
        <Failure error={records.error} onTake={onTake} />
      ) : null}
      {records.isPending ? <Pending query={records} height="h-96" /> : <Stopped query={records} />}
      {children}
    </section>
  );
}

/** The language of phrases beside English: the listing's, else the browser's where its phrases are known. */
function languageOf({ phrases }: ListingDetails): { readonly locale?: string } {
  const locale = typeof phrases === "string" ? phrases : navigator.language;
  return phraseLocale(locale).ok ? { locale } : {};
}

/** The clock that a page goes by, and today's date there, unless another is requested. */
function clockOf(
  listing: ListingDetails,
  calendar: CalendarSettings,
  requested: string,
): { readonly context: PhraseContext; readonly today: number } {
  const zone = findZone(listing.zone);
  const known = zone.ok ? zone.value : UTC;
  // To the second, which is as fine as people tell the time.
  const now = { asOf: epochMs(Math.floor(Date.now() / 1_000) * 1_000), zone: known };
  const then = momentOf(new Map([["asOf", [requested]]]), ["asOf"], now);
  return {
    context: { ...(then.ok ? then.value : now), calendar, ...languageOf(listing) },
    today: dayOf(wallAt(known, now.asOf)),
  };
}
