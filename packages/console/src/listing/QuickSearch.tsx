import type { ListingDetails } from "@orisma/client";
import { Search } from "lucide-react";
import { useRef } from "react";
import { useCommands } from "../frame/commands.js";
import { valueOf, withParameters, type PageState } from "./state.js";

type Declared = ListingDetails["parameters"][number];

/** The columns into which a search looks. */
function columnsOf(search: Declared | undefined): readonly string[] {
  if (search === undefined) return [];
  if ("columns" in search && Array.isArray(search.columns)) return search.columns as string[];
  return search.column === undefined ? [] : [search.column];
}

/** Finds records by a listing's own search, where it has one: typed, and sent by Enter. */
export function QuickSearch(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly onGo: (state: PageState) => void;
}) {
  const { listing, state, onGo } = props;
  const { parameters, labels = {} } = listing;
  const search = parameters.find(({ type }) => type === "search");
  const field = useRef<HTMLInputElement>(null);
  const columns = columnsOf(search).map((name) => labels[name] ?? name);
  const words = `Find in ${columns.join(", ") || "the records"}`;
  const focus = { name: words, key: "f", run: () => field.current?.focus() };
  useCommands(search === undefined ? [] : [focus]);
  if (search === undefined) return null;
  const sent = valueOf(state, search.name);
  const go = (text: string) => onGo(withParameters(state, { [search.name]: text.trim() }));
  return (
    <form
      role="search"
      // What is sent in another way stands in the field too.
      key={sent}
      className="relative"
      onSubmit={(event) => {
        event.preventDefault();
        go(field.current?.value ?? "");
      }}
    >
      <Search
        className="pointer-events-none absolute start-2 top-1/2 z-10 size-3.5 -translate-y-1/2 opacity-70"
        aria-hidden
      />
      <input
        ref={field}
        type="search"
        className="input input-sm w-44 ps-7"
        aria-label={words}
        placeholder={words}
        title={`${words} (f)`}
        defaultValue={sent}
        autoComplete="off"
        onKeyDown={(event) => {
          if (event.key !== "Escape" || sent === "") return;
          event.stopPropagation();
          go("");
        }}
      />
    </form>
  );
}
