import { fault, takesResume, type Fault, type ListingDeclaration } from "@orisma/core/internal";
import type { KnownSource } from "../sources/index.js";

/** Edits and actions of records that are stored elsewhere, and of the key by which a record is known. */
export function editingFaults(
  { editable = [], actions = {} }: ListingDeclaration,
  source: KnownSource,
): readonly Fault[] {
  const { name, key } = source;
  const isOwn = isImported(source);
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
