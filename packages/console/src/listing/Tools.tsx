import type { ListingDetails } from "@orisma/client";
import type { PhraseContext, RecordsAnswer } from "@orisma/core/internal";
import { X } from "lucide-react";
import { Suspense, lazy, useEffect, useRef, useState, type ReactNode } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { Menu } from "../frame/Menu.js";
import { DENSITY_WORDS, applyDensity, storedDensity } from "../frame/theme.js";
import { useMay } from "../service/session.js";
import { Downloads } from "./Downloads.js";
import { ListingActions } from "./ListingActions.js";
import { searchOf, valueOf, withParameters, type PageState } from "./state.js";
import { ViewMenu } from "./views/ViewMenu.js";
import { codeOf } from "../service/connection.js";

const AnotherDay = lazy(() => codeOf(() => import("./AnotherDay.js")));
const Summary = lazy(() => codeOf(() => import("./figures/Summary.js")));
const Understanding = lazy(() => codeOf(() => import("./Understanding.js")));
const Deliveries = lazy(() => codeOf(() => import("./Deliveries.js")));
const EditHistory = lazy(() => codeOf(() => import("./EditHistory.js")));
const FeedAddresses = lazy(() => codeOf(() => import("./FeedAddresses.js")));
const Overrides = lazy(() => codeOf(() => import("./Overrides.js")));
const SaveView = lazy(() => codeOf(() => import("./views/SaveView.js")));
const Views = lazy(() => codeOf(() => import("./views/Views.js")));
const WhyRecord = lazy(() => codeOf(() => import("./WhyRecord.js")));

/** A part of a listing's page that opens above its records, at a place of the address. */
interface Tool {
  readonly place: string;
  readonly name: string;
  readonly close: string;
  /** Whether its button stands in the bar, and not under More. */
  readonly isUsual: boolean;
  readonly isOffered: boolean;
  readonly content: () => ReactNode;
}

export interface ToolsProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly answer: RecordsAnswer;
  readonly today: number;
  readonly context: PhraseContext;
  readonly mayExplain: boolean;
  readonly onGo: (state: PageState) => void;
  readonly onColumns: () => void;
}

function toolsOf(props: ToolsProps, mayMoveClock: boolean, hash: string): readonly Tool[] {
  const { listing, state, answer, mayExplain } = props;
  const key = searchOf(state).toString();
  const { rights } = listing;
  const usual = { isUsual: true, isOffered: true };
  const rare = { isUsual: false, isOffered: true };
  const ofAuthors = { isUsual: false, isOffered: mayExplain };
  return [
    {
      ...{ place: "#summary", name: "Summarise", close: "Close the summary", ...usual },
      content: () => <Summary listing={listing} state={state} />,
    },
    {
      ...{ place: "#explain", name: "Explain", close: "Close the explanation", isUsual: true },
      isOffered: mayExplain,
      content: () => (
        <Understanding listing={listing} state={state} clauses={answer.meta.clauses ?? []} />
      ),
    },
    {
      ...{ place: "#day", name: "As of another day", close: "Close the comparison", isUsual: true },
      isOffered: mayMoveClock,
      content: () => <AnotherDay {...props} />,
    },
    {
      ...{ place: "#record", name: "Why a record is included or excluded", ...rare },
      close: "Close the check of a record",
      content: () => (
        <WhyRecord key={`${key} ${hash}`} listing={listing} state={state} answer={answer} />
      ),
    },
    {
      ...{ place: "#views", name: "Views", close: "Close the views", ...rare },
      content: () => <Views listing={listing} state={state} />,
    },
    {
      ...{ place: "#feed", name: "Calendar and feed", close: "Close calendar and feed", ...rare },
      content: () => <FeedAddresses key={key} listing={listing} state={state} />,
    },
    {
      ...{ place: "#edits", name: "Edits", close: "Close the edits", isUsual: false },
      isOffered: rights.editable.length + rights.actions.length > 0,
      content: () => <EditHistory listing={listing} />,
    },
    {
      ...{ place: "#deliveries", name: "Deliveries", close: "Close the deliveries", ...ofAuthors },
      content: () => <Deliveries key={key} listing={listing} state={state} />,
    },
    {
      ...{ place: "#save", name: "Save this view as a listing", ...ofAuthors },
      close: "Close the saving of the view",
      content: () => <SaveView key={key} listing={listing} state={state} />,
    },
    {
      ...{ place: "#overrides", name: "Defaults for a time", isUsual: false },
      close: "Close the defaults for a time",
      isOffered: mayExplain && listing.parameters.length > 0,
      content: () => <Overrides listing={listing} />,
    },
  ];
}

/** What can be done with all that is found, and the part of the page that is open. */
export function Tools(props: ToolsProps) {
  const { listing, state, mayExplain, onColumns } = props;
  const { hash } = useLocation();
  const navigate = useNavigate();
  const mayMoveClock = useMayMoveClock(listing);
  const tools = toolsOf(props, mayMoveClock, hash).filter(({ isOffered }) => isOffered);
  // What is requested as of another day shows beside which it is.
  const [named = ""] = hash.split("=");
  const place = named === "" && valueOf(state, "asOf") !== "" ? "#day" : named;
  const open = tools.find((tool) => tool.place === place);
  // What is opened from further down the page comes into sight.
  const section = useRef<HTMLElement>(null);
  const shown = useRef(hash);
  useEffect(() => {
    if (shown.current === hash) return;
    shown.current = hash;
    section.current?.scrollIntoView({ block: "nearest" });
    if (hash.startsWith("#record=")) section.current?.focus({ preventScroll: true });
  }, [hash]);
  const toggle = (tool: Tool) => {
    const isOpen = tool.place === open?.place;
    // Closing the other day leads back to today, which is what its link says.
    const next = isOpen && tool.place === "#day" ? withParameters(state, { asOf: [] }) : state;
    void navigate(
      { search: searchOf(next).toString(), hash: isOpen ? "" : tool.place },
      { preventScrollReset: true },
    );
  };
  return (
    <>
      <div
        role="toolbar"
        aria-label="Records"
        className="flex flex-wrap items-center gap-1 max-md:gap-x-1 max-md:gap-y-0 max-md:[&_.btn]:h-7 max-md:[&_.btn]:px-1.5"
      >
        <ListingActions key={searchOf(state).toString()} listing={listing} state={state} />
        <button type="button" className="btn btn-ghost btn-sm max-md:hidden" onClick={onColumns}>
          Columns shown
        </button>
        {tools
          .filter(({ isUsual }) => isUsual)
          .map((tool) => (
            <button
              key={tool.place}
              type="button"
              className="btn btn-ghost btn-sm max-md:hidden aria-expanded:bg-base-300"
              aria-expanded={tool === open}
              onClick={() => toggle(tool)}
            >
              {tool.name}
            </button>
          ))}
        <ViewMenu
          listing={listing}
          state={state}
          onKeep={() => {
            const search = searchOf(state).toString();
            void navigate({ search, hash: "#views" }, { preventScrollReset: true });
          }}
        />
        <Menu label="Download">
          <Downloads listing={listing} state={state} />
        </Menu>
        <CopyLink {...props} mayMoveClock={mayMoveClock} />
        <Menu label="More">
          <li className="md:hidden">
            <button type="button" onClick={onColumns}>
              Columns shown
            </button>
          </li>
          {[...tools]
            .sort((a, b) => Number(b.isUsual) - Number(a.isUsual))
            .map((tool) => (
              <li key={tool.place} className={tool.isUsual ? "md:hidden" : ""}>
                <button type="button" aria-expanded={tool === open} onClick={() => toggle(tool)}>
                  {tool.name}
                </button>
              </li>
            ))}
          <li>
            <DensityButton />
          </li>
          <li>
            <Link
              to={{
                pathname: "/reference",
                search: searchOf(state).toString(),
                hash: `get /v1/listings/${encodeURIComponent(listing.name)}/records`,
              }}
            >
              API of this listing
            </Link>
          </li>
          {mayExplain ? (
            <li>
              <Link to={`/declare/${listing.name}`}>Edit the declaration</Link>
            </li>
          ) : null}
        </Menu>
      </div>
      {open === undefined ? null : (
        <section
          key={open.place}
          ref={section}
          tabIndex={-1}
          aria-label={open.name}
          className="order-last w-full border-t border-base-300 pt-3 pb-1"
        >
          <div className="mb-2 flex items-center justify-between gap-4">
            <h2 className="font-sentence text-xl">{open.name}</h2>
            <button
              type="button"
              className="btn btn-square btn-ghost btn-sm"
              aria-label={open.close}
              title={open.close}
              onClick={() => toggle(open)}
            >
              <X className="size-5" aria-hidden />
            </button>
          </div>
          <Suspense fallback={<div className="skeleton h-64 w-full" />}>{open.content()}</Suspense>
        </section>
      )}
    </>
  );
}

/** Shows more rows at once, or fewer, in every listing. */
function DensityButton() {
  const next = storedDensity() === "compact" ? "roomy" : "compact";
  return (
    <button type="button" onClick={() => applyDensity(next)}>
      {DENSITY_WORDS[next]}
    </button>
  );
}

/** Whether the reader may ask for the records as of another day. */
function useMayMoveClock({ allow }: ListingDetails): boolean {
  const least = allow?.asOf ?? "author";
  const may = useMay(least === "nobody" ? "owner" : least);
  return may && least !== "nobody";
}

/** Copies the address of the view: one whose dates go on moving, or one that stays as it is now. */
function CopyLink(props: ToolsProps & { readonly mayMoveClock: boolean }) {
  const { state, answer, mayMoveClock } = props;
  const [copied, setCopied] = useState("");
  const copy = async (next: PageState, words: string) => {
    const url = new URL(location.href);
    url.search = searchOf(next).toString();
    url.hash = "";
    await navigator.clipboard.writeText(url.href);
    setCopied(words);
  };
  const asOf = valueOf(state, "asOf") || answer.meta.readAt;
  return (
    <>
      <Menu label="Copy link">
        <li>
          <button
            type="button"
            onClick={() => void copy(state, "Link copied: its dates go on moving.")}
          >
            Dates that go on moving
          </button>
        </li>
        {mayMoveClock ? (
          <li>
            <button
              type="button"
              onClick={() =>
                void copy({ ...state, asOf: [asOf] }, "Link copied: its dates stay as they are.")
              }
            >
              Dates as they are now
            </button>
          </li>
        ) : null}
      </Menu>
      <span role="status" className="text-sm empty:hidden">
        {copied}
      </span>
    </>
  );
}
