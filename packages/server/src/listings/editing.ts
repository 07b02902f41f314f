import { fault, type Fault, type ListingDeclaration } from "@orisma/core/internal";
import type { KnownSource } from "../sources/index.js";

/** Edits and actions of records that are stored elsewhere, and of the key by which a record is known. */
export function editingFaults(
  { editable = [], actions = {} }: ListingDeclaration,
  { name, key, imported, attached, combine, unnest }: KnownSource,
): readonly Fault[] {
  const isOwn = imported !== null || (attached === null && combine === null && unnest === null);
  const places = [
    ...editable.map((column, index) => ({ column, path: `editable.${index}` })),
    ...Object.entries(actions).flatMap(([action, { set }]) =>
      Object.keys(set).map((column) => ({ column, path: `actions.${action}.set.${column}` })),
    ),
  ];
  return places.flatMap(({ column, path }) => {
    if (isOwn && column !== key) return [];
    const reason = isOwn
      ? "it is the key, by which a record is known"
      : `the records of ${name} are not stored here: only those of an imported source can be changed`;
    return [fault("parameter.setting", { name: column, reason }, { path, value: column })];
  });
}
