import { fault, takesResume, type Fault, type ListingDeclaration } from "@orisma/core/internal";
import type { KnownSource } from "../sources/index.js";

/** Edits and actions of records that cannot be changed, and of the key by which a record is known. */
export function editingFaults(
  { editable = [], actions = {} }: ListingDeclaration,
  { key }: KnownSource,
  /** Why none of the source's records can be changed; null where they can. */
  readOnly: string | null,
): readonly Fault[] {
  const places = [
    ...editable.map((column, index) => ({ column, path: `editable.${index}` })),
    ...Object.entries(actions).flatMap(([action, { set }]) =>
      Object.keys(set).map((column) => ({ column, path: `actions.${action}.set.${column}` })),
    ),
  ];
  return places.flatMap(({ column, path }) => {
    if (readOnly === null && column !== key) return [];
    const reason = readOnly ?? "it is the key, by which a record is known";
    return [fault("parameter.setting", { name: column, reason }, { path, value: column })];
  });
}

/** The columns that a listing lets be changed. */
export function changedColumns({
  editable = [],
  actions = {},
}: ListingDeclaration): readonly string[] {
  const set = Object.values(actions).flatMap((action) => Object.keys(action.set));
  return [...new Set([...editable, ...set])];
}

/** Picking up where one stopped: in an imported source by what is noted, in an attached table by a column of its own. */
export function resumeFaults(
  { resume, relations = {} }: ListingDeclaration,
  source: KnownSource,
): readonly Fault[] {
  if (!takesResume(resume)) return [];
  const byTime =
    '{ "column": …, "lag": "PT5M" }, with a column that every change sets to its own time';
  const reasons = [
    ...(isImported(source) && resume !== true
      ? [`the service notes itself what changes in ${source.name}: write true`]
      : []),
    ...(isAttachedTable(source) && resume === true
      ? [`nothing notes what changes in ${source.name}, a table of yours: write ${byTime}`]
      : []),
    ...(isImported(source) || isAttachedTable(source)
      ? []
      : [
          `${source.name} is made of others: only of an imported source or one attached table it is known what changes`,
        ]),
    ...(Object.keys(relations).length === 0
      ? []
      : ["it shows related records, whose changes are not noted with those of its own"]),
  ];
  return reasons.map((reason) =>
    fault("parameter.setting", { name: "resume", reason }, { path: "resume" }),
  );
}

function isAttachedTable({ attached, partitionColumn }: KnownSource): boolean {
  return attached !== null && partitionColumn === null;
}

function isImported({ imported, attached, combine, unnest }: KnownSource): boolean {
  return imported !== null || (attached === null && combine === null && unnest === null);
}
