import { OrismaError, type ListingDetails } from "@orisma/client";
import type { RecordsAnswer, RecordsMeta, TotalAnswer } from "@orisma/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ArrowLeft, ArrowRight } from "lucide-react";
import { Suspense, lazy, useEffect } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";
import { RecordTable } from "./RecordTable.js";
import { SentenceForm } from "./SentenceForm.js";
import { cleared, searchOf, stateOf, withParameters, type PageState } from "./state.js";

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
      ) : listing.data === undefined ? null : (
        <Listing listing={listing.data} />
      )}
    </Frame>
  );
}

function Listing({ listing }: { readonly listing: ListingDetails }) {
  const [search] = useSearchParams();
  const state = stateOf(search);
  const { hash } = useLocation();
  const navigate = useNavigate();
  // What is open stays open when something else is asked for.
  const go = (next: PageState) => void navigate({ search: searchOf(next).toString(), hash });
  const records = useQuery({
    queryKey: ["records", listing.name, listing.version, searchOf(state).toString()],
    queryFn: ({ signal }) =>
      service.records(
        listing.name,
        { ...state, with: listing.formats === undefined ? "unfiltered" : "unfiltered,display" },
        signal,
      ),
    placeholderData: keepPreviousData,
  });
  const problem = records.error instanceof OrismaError ? records.error.problem : null;
  const answer = records.isError ? undefined : records.data;
  return (
    <>
      <SentenceForm
        listing={listing}
        state={state}
        windows={records.isPlaceholderData ? undefined : answer?.meta.windows}
        extents={answer?.meta.shown}
        problem={problem}
        onAsk={(parameters) => go(withParameters(state, parameters))}
        onClear={() => go(cleared(state, listing))}
      />
      <section
        aria-label="Answer"
        aria-busy={records.isFetching}
        className={records.isPlaceholderData ? "opacity-60" : ""}
      >
        {records.isError ? <Failure error={records.error} listing={listing} /> : null}
        {answer === undefined ? null : (
          <Answer
            listing={listing}
            answer={answer}
            order={state.order ?? listing.order.default}
            onOrder={(order) => go(withParameters(state, { order }))}
            onPage={(link) => go({ ...state, cursor: cursorOf(link) })}
          />
        )}
      </section>
      {problem === null ? <Understood listing={listing.name} state={state} /> : null}
    </>
  );
}

/** Opens and closes the explanation; the address says so, so that a link shows it. */
function Understood(props: { readonly listing: string; readonly state: PageState }) {
  const { hash, search } = useLocation();
  const isOpen = hash === UNDERSTOOD;
  return (
    <section className="mt-8 border-t border-base-300 pt-4" aria-labelledby="understood">
      <h2 id="understood" className="mb-4">
        <Link
          replace
          preventScrollReset
          to={{ search, hash: isOpen ? "" : UNDERSTOOD }}
          className="link"
          role="button"
          aria-expanded={isOpen}
        >
          {isOpen ? "Put the explanation away" : "How this was understood, and how it is run"}
        </Link>
      </h2>
      {isOpen ? (
        <Suspense fallback={<div className="skeleton h-64 w-full" />}>
          <Understanding {...props} />
        </Suspense>
      ) : null}
    </section>
  );
}

const UNDERSTOOD = "#understood";

function Answer(props: {
  readonly listing: ListingDetails;
  readonly answer: RecordsAnswer;
  readonly order: string;
  readonly onOrder: (order: string) => void;
  readonly onPage: (link: string) => void;
}) {
  const { listing, answer, order, onOrder, onPage } = props;
  const { meta, records, links } = answer;
  return (
    <>
      <div className="my-4 flex flex-wrap items-baseline gap-x-4 border-y border-base-300 py-2">
        <p aria-live="polite" className="text-lg font-semibold tabular-nums">
          {countText(meta)}
        </p>
        <p className="opacity-80">{meta.sentence}</p>
      </div>
      <div className="mb-4 flex flex-col gap-2 empty:hidden">
        {meta.notices.map(({ code, message }) => (
          <Message key={`${code} ${message}`} kind="notice">
            {capitalised(message)}.
          </Message>
        ))}
      </div>
      {records.length === 0 ? (
        <Message kind="info" title="No record lies in this window">
          Searched: {meta.sentence}
        </Message>
      ) : (
        <RecordTable listing={listing} answer={answer} order={order} onOrder={onOrder} />
      )}
      <Pager links={links} onPage={onPage} />
    </>
  );
}

function Pager(props: {
  readonly links: RecordsAnswer["links"];
  readonly onPage: (link: string) => void;
}) {
  const { previous, next } = props.links;
  if (previous === undefined && next === undefined) return null;
  const { onPage } = props;
  return (
    <nav aria-label="Pages" className="mt-4 flex gap-2">
      <button
        type="button"
        className="btn btn-sm"
        disabled={previous === undefined}
        onClick={() => previous !== undefined && onPage(previous)}
      >
        <ArrowLeft className="size-4" aria-hidden /> Previous
      </button>
      <button
        type="button"
        className="btn btn-sm"
        disabled={next === undefined}
        onClick={() => next !== undefined && onPage(next)}
      >
        Next <ArrowRight className="size-4" aria-hidden />
      </button>
    </nav>
  );
}

/** A failure in plain words; faults of the dates themselves stand beside their fields. */
function Failure(props: { readonly error: Error; readonly listing: ListingDetails }) {
  const { error, listing } = props;
  const own = new Set(listing.parameters.map(({ name }) => name));
  const faults = error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
  const others = faults.filter(({ parameter }) => parameter === undefined || !own.has(parameter));
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
        {faults.length > others.length ? "Please put right what is marked. " : null}
        {others.map(({ message, parameter, nearest }) => (
          <p key={`${parameter ?? ""} ${message}`}>
            {capitalised(message)}.{nearest === undefined ? "" : ` Did you mean “${nearest}”?`}
          </p>
        ))}
      </Message>
    </div>
  );
}

function countText({ total, totalIs, unfiltered }: RecordsMeta): string {
  const matched = totalText({ total, totalIs });
  return unfiltered === undefined
    ? `${matched} records`
    : `${matched} of ${totalText(unfiltered)} records`;
}

function totalText({ total, totalIs }: TotalAnswer): string {
  if (total === null) return "not counted";
  const number = new Intl.NumberFormat().format(total);
  return totalIs === "atLeast" ? `more than ${number}` : number;
}

function cursorOf(link: string): string {
  return new URLSearchParams(link.split("?", 2)[1] ?? "").get("cursor") ?? "";
}

function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
