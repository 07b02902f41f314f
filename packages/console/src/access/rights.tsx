import type { Role } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { service } from "../service/service.js";

const ROLES: readonly Role[] = ["reader", "author", "owner"];

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
      <span className="flex gap-6">
        {ROLES.map((each) => (
          <label key={each} className="flex items-center gap-2">
            <input
              type="radio"
              name={name}
              className="radio radio-sm"
              checked={role === each}
              onChange={() => onRole(each)}
            />
            {each}
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
