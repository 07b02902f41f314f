import type { ListingDetails } from "@orisma/client";
import type { PhraseContext, RecordsAnswer, WhyAnswer } from "@orisma/core/internal";
import { ArrowLeft, ArrowRight } from "lucide-react";
import { useState, type ReactNode } from "react";
import { QuickSearch } from "./QuickSearch.js";
import { Message } from "../frame/Message.js";
import { countText } from "./counts.js";
import { parametersOn, shownIn, withoutColumn } from "./narrowing.js";
import { RecordTable } from "./RecordTable.js";
import { Ribbon } from "./ribbon/Ribbon.js";
import { SlimLine } from "./SlimLine.js";
import { withParameters, type PageState } from "./state.js";
import { Tools } from "./Tools.js";
import { localText } from "../dates/zones.js";
import { capitalised, dayText } from "../dates/words.js";

/** The id of the place at which a page of records begins. */
export const RECORDS_TOP = "records-top";

/** What was found: how many, along time and one by one, and the ways on from there. */
export function Answer(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly answer: RecordsAnswer;
  readonly order: string;
  readonly today: number;
  readonly context: PhraseContext;
  readonly mayExplain: boolean;
  readonly onGo: (state: PageState) => void;
  /** Turns to the page that a link leads to; null is the first. */
  readonly onPage: (link: string | null) => void;
  readonly onEdit: (column: string) => void;
  readonly onColumns: () => void;
}) {
  const {
    listing,
    state,
    answer,
    order,
    today,
    context,
    mayExplain,
    onGo,
    onPage,
    onEdit,
    onColumns,
  } = props;
  const { meta, records, links } = answer;
  const { mainDate } = listing;
  const isByDate = order === mainDate || order === `-${mainDate}`;
  const blanks = parametersOn(listing, mainDate)[0];
  return (
    <>
      <div
        id={RECORDS_TOP}
        className="my-3 flex scroll-mt-9 max-md:my-2 max-md:py-0 flex-wrap items-center justify-between gap-x-4 gap-y-1 border-y border-base-300 py-1"
      >
        <div className="flex flex-wrap items-center gap-x-4">
          <p
            dir="auto"
            aria-live="polite"
            className="text-lg font-semibold tabular-nums max-md:text-base"
          >
            {countText(meta)}
          </p>
          <QuickSearch listing={listing} state={state} onGo={onGo} />
        </div>
        {/* Its clauses stand above; read out in a whole where they change. */}
        <p dir="auto" className="sr-only">
          {meta.sentence}
        </p>
        <Tools
          listing={listing}
          state={state}
          answer={answer}
          today={today}
          context={context}
          mayExplain={mayExplain}
          onGo={onGo}
          onColumns={onColumns}
        />
      </div>
      <SlimLine count={countText(meta)} sentence={meta.sentence} />
      <div className="mb-4 flex flex-col gap-2 empty:hidden">
        {meta.notices.map(({ code, message }) => (
          <Message key={`${code} ${message}`} kind="notice">
            {capitalised(message)}.
          </Message>
        ))}
      </div>
      <div className="flex flex-col items-start gap-4 sm:flex-row">
        <FoldedWhereNarrow name="Timeline">
          <Ribbon
            listing={listing}
            state={state}
            windows={meta.windows}
            applied={meta.values}
            newestFirst={!isByDate || order.startsWith("-")}
            page={isByDate ? pageDates(answer, mainDate) : null}
            onGo={onGo}
            onBlank={
              blanks === undefined
                ? null
                : () =>
                    onGo(
                      withParameters(withoutColumn(state, listing, mainDate), {
                        [`${blanks.name}.blank`]: "only",
                      }),
                    )
            }
          />
        </FoldedWhereNarrow>
        <div className="w-full min-w-0 flex-1">
          {records.length === 0 ? (
            <Message kind="info" title="No record lies in this window">
              {meta.why === undefined ? null : <WhyNone why={meta.why} />}
            </Message>
          ) : (
            <RecordTable
              listing={listing}
              columns={shownIn(listing, state)}
              state={state}
              answer={answer}
              orders={state.order ?? [order]}
              onOrder={(orders) => onGo(withParameters(state, { order: orders }))}
              onGo={onGo}
              onEdit={onEdit}
            />
          )}
          <div className="mt-4 flex flex-wrap items-center justify-between gap-4">
            <Pager links={links} onPage={onPage} />
          </div>
          <p className="mt-2 text-sm opacity-90">
            {extentText(answer, listing.zone)} Read at {new Date(meta.readAt).toLocaleTimeString()}.
          </p>
        </div>
      </div>
    </>
  );
}

/** What is folded away on a narrow screen until it is asked for. */
function FoldedWhereNarrow(props: { readonly name: string; readonly children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className="btn btn-sm sm:hidden"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        {props.name}
      </button>
      <div className={isOpen ? "contents" : "contents max-sm:hidden"}>{props.children}</div>
    </>
  );
}

/** Why there is no record: what kept each out, and what is nearest. */
function WhyNone({ why: { reasons, narrowing } }: { readonly why: WhyAnswer }) {
  const { records, steps } = narrowing;
  return (
    <>
      <ul aria-label="Why there is no record" className="mt-1 list-disc pl-5">
        {reasons.map((reason) => (
          <li key={reason}>{capitalised(reason)}</li>
        ))}
      </ul>
      {steps.length < 2 ? null : (
        <ol aria-label="Records after each condition" className="mt-2 tabular-nums">
          {[{ condition: "all records", inTurn: records }, ...steps].map(
            ({ condition, inTurn }, index) => (
              <li key={`${index} ${condition}`}>
                {condition}: {inTurn === null ? "not counted" : `${inTurn.toLocaleString()} remain`}
              </li>
            ),
          )}
        </ol>
      )}
    </>
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

function extentText({ meta: { extent } }: RecordsAnswer, zone: string): string {
  if (extent?.first == null || extent.last === null) return "";
  return `From ${dateText(extent.first, zone)} to ${dateText(extent.last, zone)}.`;
}

/** A day as its record shows it: that of an instant is the listing's, whatever the reader's zone. */
function dateText(text: string, zone: string): string {
  const [day = ""] = localText(text, zone).split("T");
  return dayText(day);
}

function Pager(props: {
  readonly links: RecordsAnswer["links"];
  readonly onPage: (link: string | null) => void;
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
        onClick={() => onPage(null)}
      >
        First
      </button>
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

/** The place that a link leads to. */
export function cursorOf(link: string): string {
  return new URLSearchParams(link.split("?", 2)[1] ?? "").get("cursor") ?? "";
}
