import type { ListingDetails } from "@orisma/client";
import { Link } from "react-router";
import { Menu } from "../../frame/Menu.js";
import { useWho } from "../../service/session.js";
import { searchOf, type PageState } from "../state.js";
import { recentOf, searchOfView, useViews, viewShown, viewedOf } from "./views.js";

/** Opens one's own views, and what was looked at lately. */
export function ViewMenu(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly onKeep: () => void;
}) {
  const { listing, state, onKeep } = props;
  const { data: views = [] } = useViews(listing.name);
  const shown = viewShown(views, listing, state);
  return (
    <Menu label={shown === undefined ? "Views" : `View: ${shown.name}`}>
      {views.map((view) => (
        <li key={view.name}>
          <Link
            to={{ search: searchOfView(view) }}
            className="font-semibold"
            aria-current={view === shown ? "true" : undefined}
          >
            {view.name}
          </Link>
        </li>
      ))}
      {searchOf(state).size > 0 ? (
        <li>
          <Link to={{ search: "" }}>Everything</Link>
        </li>
      ) : null}
      <Recents listing={listing} state={state} />
      <li className="mt-1 border-t border-base-300 pt-1">
        <button type="button" onClick={onKeep}>
          Keep this view…
        </button>
      </li>
    </Menu>
  );
}

/** Read when the menu opens: nothing else shows them. */
function Recents({
  listing,
  state,
}: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const who = useWho();
  const now = searchOf(viewedOf(listing, state)).toString();
  const recent = recentOf(who ?? "", listing.name).filter(({ search }) => search !== now);
  if (recent.length === 0) return null;
  return (
    <>
      <li className="mt-1 border-t border-base-300 px-4 pt-2 text-sm opacity-80">Seen lately</li>
      {recent.map(({ search, words }) => (
        <li key={search}>
          <Link to={{ search }} className="max-w-[28rem] truncate" title={words}>
            {words}
          </Link>
        </li>
      ))}
    </>
  );
}
