import type { ListingDetails } from "@orisma/client";
import type { RecordsAnswer } from "@orisma/core/internal";
import { lazy } from "react";
import { Link } from "react-router";
import { Folded } from "../frame/Folded.js";
import { searchOf, type PageState } from "./state.js";

const Summary = lazy(() => import("./Summary.js"));
const Understanding = lazy(() => import("./Understanding.js"));
const Deliveries = lazy(() => import("./Deliveries.js"));
const EditHistory = lazy(() => import("./EditHistory.js"));
const FeedAddresses = lazy(() => import("./FeedAddresses.js"));
const Overrides = lazy(() => import("./Overrides.js"));
const SaveView = lazy(() => import("./SaveView.js"));
const WhyRecord = lazy(() => import("./WhyRecord.js"));

/** What there is below the records of a listing: figures, explanations, its declaration. */
export function Beneath(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly answer: RecordsAnswer | undefined;
  readonly isAnswered: boolean;
  readonly mayExplain: boolean;
}) {
  const { listing, state, answer, isAnswered, mayExplain } = props;
  const { rights } = listing;
  if (!isAnswered) {
    return mayExplain && listing.broken !== undefined ? <Declared name={listing.name} /> : null;
  }
  return (
    <>
      <Folded place="#summary" open="Summarise" close="Close the summary">
        <Summary listing={listing} state={state} />
      </Folded>
      <Folded
        place="#record"
        open="Why a record is included or excluded"
        close="Close the check of a record"
      >
        <WhyRecord key={searchOf(state).toString()} listing={listing} state={state} />
      </Folded>
      <Folded place="#feed" open="Calendar and feed" close="Close calendar and feed">
        <FeedAddresses key={searchOf(state).toString()} listing={listing} state={state} />
      </Folded>
      {rights.editable.length + rights.actions.length > 0 ? (
        <Folded place="#edits" open="Edits" close="Close the edits">
          <EditHistory listing={listing} />
        </Folded>
      ) : null}
      {mayExplain ? (
        <Folded place="#deliveries" open="Deliveries" close="Close the deliveries">
          <Deliveries key={searchOf(state).toString()} listing={listing} state={state} />
        </Folded>
      ) : null}
      {mayExplain ? (
        <Folded
          place="#save"
          open="Save this view as a listing"
          close="Close the saving of the view"
        >
          <SaveView key={searchOf(state).toString()} listing={listing} state={state} />
        </Folded>
      ) : null}
      {mayExplain && listing.parameters.length > 0 ? (
        <Folded place="#overrides" open="Defaults for a time" close="Close the defaults for a time">
          <Overrides listing={listing} />
        </Folded>
      ) : null}
      {mayExplain ? <Declared name={listing.name} /> : null}
      {mayExplain ? (
        <Folded place="#explain" open="Explain" close="Close the explanation">
          <Understanding listing={listing} state={state} clauses={answer?.meta.clauses ?? []} />
        </Folded>
      ) : null}
    </>
  );
}

function Declared({ name }: { readonly name: string }) {
  return (
    <p className="mt-6 border-t border-base-300 pt-4">
      <Link to={`/declare/${name}`} className="link font-sentence text-xl">
        Edit the declaration
      </Link>
    </p>
  );
}
