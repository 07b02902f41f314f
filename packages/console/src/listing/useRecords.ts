import { OrismaError, type ListingDetails } from "@orisma/client";
import type { RecordsAnswer } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { service } from "../service/service.js";
import { isUnreachable } from "../service/connection.js";
import { AGAIN_MS } from "./Failure.js";
import { searchOf, type PageState } from "./state.js";

/** What is requested beside the records. */
const EXTRAS = "unfiltered,extent,clauses,why";

/** The records of a page (`current` where they are those of its conditions), and what there is of them while they are requested again or the service is away. */
export function useRecords(listing: ListingDetails, state: PageState) {
  const extras = listing.formats === undefined ? EXTRAS : `${EXTRAS},display`;
  const records = useQuery({
    meta: { doing: `Loading the records of ${listing.title}` },
    queryKey: ["records", listing.name, listing.version, searchOf(state).toString()],
    queryFn: ({ signal }) => service.records(listing.name, { ...state, with: extras }, signal),
    placeholderData: keepPreviousData,
    // It is requested again until it answers.
    refetchInterval: ({ state: { error } }) => (isUnreachable(error) ? AGAIN_MS : false),
  });
  const problem = records.error instanceof OrismaError ? records.error.problem : null;
  const [held, setHeld] = useState<RecordsAnswer>();
  if (records.isSuccess && records.data !== held) setHeld(records.data);
  // Where the service cannot be reached the last good answer stays, with its time.
  const isAway = records.isError && isUnreachable(records.error);
  const answer = records.isError ? (isAway ? held : undefined) : records.data;
  const isCurrent = !records.isPlaceholderData && !isAway;
  return { records, problem, answer, isAway, current: isCurrent ? answer : undefined };
}
