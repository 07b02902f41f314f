import type { Role } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { service } from "../service/service.js";

const ROLES: readonly Role[] = ["reader", "author", "owner"];

/** What each role may do. */
export const MAY: Readonly<Record<Role, readonly string[]>> = {
  reader: ["read and download the records of listings, with counts and summaries"],
  author: [
    "everything a reader may do, in every listing",
    "declare listings and windows, and see sources",
    "explain requests, and query as of another day",
  ],
  owner: [
    "everything an author may do",
    "import records, set readings, attach databases",
    "add people, create and revoke keys",
  ],
};

/** The role of a key or a person. */
export function RolePicker(props: {
  /** Of the field, one of its own in the page. */
  readonly name: string;
  readonly role: Role;
  readonly onRole: (role: Role) => void;
}) {
  const { name, role, onRole } = props;
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-medium">Role</legend>
      <span className="flex flex-col gap-2">
        {ROLES.map((each) => (
          <label key={each} className="flex items-start gap-2">
            <input
              type="radio"
              name={name}
              className="radio radio-sm mt-0.5"
              checked={role === each}
              aria-label={each}
              aria-describedby={`${name}-${each}`}
              onChange={() => onRole(each)}
            />
            <span>
              {each}
              <span id={`${name}-${each}`} className="block text-sm opacity-80">
                {MAY[each].join("; ")}
              </span>
            </span>
          </label>
        ))}
      </span>
    </fieldset>
  );
}

/** The listings that a reader is kept to. */
export function ListingPicker(props: {
  readonly picked: readonly string[];
  readonly onPick: (names: readonly string[]) => void;
}) {
  const { picked, onPick } = props;
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
  });
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-medium">Listings (all by default)</legend>
      <p className="text-sm opacity-80">
        {picked.length === 0
          ? "It reads every listing, also those that are declared later."
          : `It reads only ${picked.join(", ")}; of the others it does not even see that there are any.`}
      </p>
      <span className="flex flex-wrap gap-x-6 gap-y-1">
        {(listings.data ?? []).map((each) => (
          <label key={each.name} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={picked.includes(each.name)}
              onChange={() =>
                onPick(
                  picked.includes(each.name)
                    ? picked.filter((other) => other !== each.name)
                    : [...picked, each.name],
                )
              }
            />
            {each.name}
          </label>
        ))}
      </span>
    </fieldset>
  );
}
