import type { ChangeRights } from "@orisma/contract";
import type { ChangeRight, ListingDeclaration } from "@orisma/core/internal";
import { PUBLIC_ROLE, mayAs, type Caller } from "../http/index.js";

/** Whether a caller may edit records of a listing, or use its actions: nobody may without a key. */
export function mayChange(
  right: ChangeRight,
  caller: Caller,
  { allow = {} }: Pick<ListingDeclaration, "allow">,
): boolean {
  const least = allow[right] ?? "author";
  if (caller.id === PUBLIC_ROLE) return false;
  if (typeof least !== "string") return mayAs("author", caller) || isNamed(caller, least);
  return least !== "nobody" && mayAs(least, caller);
}

/**
 * Whether a caller may read a listing: authors may read each, who is kept to some listings those, and all others
 * what does not name its readers, or names them.
 */
export function mayRead(
  caller: Caller,
  { name, allow }: Pick<ListingDeclaration, "name" | "allow">,
): boolean {
  if (mayAs("author", caller)) return true;
  if (caller.listings !== null) return caller.listings.includes(name);
  return allow?.read === undefined || isNamed(caller, allow.read);
}

/** Whether a caller, or a group of theirs, is one of those that are named. */
function isNamed({ name, groups = [] }: Caller, named: readonly string[]): boolean {
  return named.includes(name) || groups.some((group) => named.includes(`group:${group}`));
}

/** What a caller may change in a listing. */
export function changeRights(caller: Caller, declaration: ListingDeclaration): ChangeRights {
  const { editable = [], actions = {} } = declaration;
  return {
    editable: mayChange("edit", caller, declaration) ? [...editable] : [],
    actions: mayChange("act", caller, declaration)
      ? Object.entries(actions).map(([name, { label = name }]) => ({ name, label }))
      : [],
  };
}
