import {
  MAX_CHANGED,
  type ActionReport,
  type EditDescription,
  type EditedRecord,
  type RepairedCell,
  type REPAIR,
  type Shown,
} from "@orisma/contract";
import {
  MARIADB,
  fault,
  pageStatement,
  readAction,
  readEdit,
  storedStep,
  type EditContext,
  type EditValue,
  type Filter,
  type SentParameters,
} from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import type { Gateway, Run } from "../database/index.js";
import { Problem, mayAs, problemOf, type Caller } from "../http/index.js";
import { changeRights, mayChange, type ServedListing } from "../listings/index.js";
import {
  isAsRead,
  recordTag,
  taggedColumns,
  type PreparedRequest,
  type Records,
} from "../records/index.js";
import { asRead, faultOf, writtenCell, writtenOf, type Sources } from "../sources/index.js";
import { batches } from "./batches.js";
import { Edit } from "./entities.js";
import { cellsOf, describeEdit, takenBack } from "./history.js";
import {
  LEFT_LISTING,
  noRecord,
  preconditionRequired,
  changedMeanwhile,
  expectedRequired,
  otherCount,
  tooMany,
  changedSince,
} from "./refusals.js";
import type { EditWriter } from "./writer.js";

/** A request to a listing that is about to change records. */
export interface ChangeRequest {
  readonly listing: ServedListing;
  readonly sent: SentParameters;
  readonly caller: Caller;
  readonly records: Records;
}

/** What edits are made with. */
export interface EditsParts {
  readonly dataSource: DataSource;
  readonly gateway: Gateway;
  readonly sources: Sources;
  readonly writer: EditWriter;
}

/** Changes records by listings, and knows what was changed. */
export class Edits {
  constructor(private readonly parts: EditsParts) {}

  /**
   * Edits cells of one record, which must be as its ETag says. Throws a problem where the caller may not, where a
   * value cannot be stored, where the record is none of the listing or was changed meanwhile.
   */
  async edit(
    request: ChangeRequest,
    id: string,
    values: Readonly<Record<string, EditValue>>,
    ifMatch: string | undefined,
  ): Promise<EditedRecord> {
    const { listing, caller, records } = request;
    this.#mustBeAllowed("edit", request);
    if (ifMatch === undefined) throw preconditionRequired(id);
    const prepared = await records.prepare(listing, request.sent, caller);
    const context = await this.#contextOf(prepared, caller);
    const cells = readEdit(declarationFor(listing), values, context);
    if (!cells.ok) throw problemOf(cells.faults);
    const note = { listing: listing.declaration.name, action: null, caller, undoes: null };
    const written = await this.parts.writer.write(listing.ofSource, note, async (run, table) => {
      const [key] = await keysIn(run, prepared, prepared.fixed, { only: [id], limit: 1 });
      if (key !== id) throw noRecord(id);
      const [record] = await table.locked(run, taggedColumns(listing), [id]);
      if (record === undefined || !isAsRead(ifMatch, recordTag(record))) throw changedMeanwhile(id);
      return [{ ids: [id], cells: cells.value }];
    });
    return { ...(await this.#after(request, id)), edit: written.number };
  }

  /** A record after an edit: whether the request still keeps it, and what it does not satisfy any more. */
  async #after(
    { listing, sent, caller, records }: ChangeRequest,
    id: string,
  ): Promise<Omit<EditedRecord, "edit">> {
    const prepared = await records.prepare(listing, sent, caller);
    const record = await records.oneOfAll(prepared, id);
    if (record === null) return { record, isIn: false, notices: [LEFT_LISTING] };
    const { isIn, conditions } = await records.verdict(prepared, id);
    const unmet = conditions.filter(({ isMet }) => !isMet).map(({ condition }) => condition);
    const notice = `The record left the list, since it no longer satisfies: ${unmet.join("; ")}.`;
    return { record, isIn, notices: isIn ? [] : [notice] };
  }

  /** Makes a change that the listing names: of some records, or of as many as the request is said to keep. */
  async act(
    request: ChangeRequest,
    action: string,
    {
      ids,
      expected,
      dryRun,
    }: {
      readonly ids?: readonly string[];
      readonly expected?: number;
      readonly dryRun: boolean;
    },
  ): Promise<ActionReport> {
    const { listing, caller, records } = request;
    const { declaration } = listing;
    this.#mustBeAllowed("act", request);
    const prepared = await records.prepare(listing, request.sent, caller);
    const cells = readAction(declaration, action, await this.#contextOf(prepared, caller));
    if (!cells.ok) throw problemOf(cells.faults);
    if (ids === undefined && expected === undefined && !dryRun) throw expectedRequired(action);
    let found: readonly string[] = [];
    const note = { listing: declaration.name, action, caller, undoes: null };
    const written = await this.parts.writer.write(
      listing.ofSource,
      note,
      async (run) => {
        found =
          ids === undefined
            ? await keysIn(run, prepared, prepared.query.filter, { limit: MAX_CHANGED + 1 })
            : await keysAmong(run, prepared, prepared.fixed, [...new Set(ids)]);
        const known = new Set(found);
        const missing = (ids ?? []).filter((id) => !known.has(id));
        if (missing.length > 0) throw noRecord(...missing);
        if (found.length > MAX_CHANGED) throw tooMany(action);
        if (expected !== undefined && expected !== found.length) {
          throw otherCount(expected, found.length);
        }
        return [{ ids: found, cells: cells.value }];
      },
      dryRun,
    );
    const { records: all, changed, number } = written;
    if (number === null) return { records: all, changed, left: dryRun ? null : 0, edit: null };
    const left = await this.#left(request, found);
    return { records: all, changed, left, edit: number };
  }

  /** How many of some records the request does not keep any more. */
  async #left({ listing, sent, caller, records }: ChangeRequest, ids: readonly string[]) {
    const prepared = await records.prepare(listing, sent, caller);
    const gateway = await this.parts.sources.gatewayOf(listing.ofSource);
    const run: Run = (statement) => gateway.read(statement);
    const kept = await keysAmong(run, prepared, prepared.query.filter, ids, "");
    return ids.length - kept.length;
  }

  /** Takes an edit back: all of its cells, where they are still as it made them. */
  async undo(listing: ServedListing, number: number, caller: Caller): Promise<ActionReport> {
    const { name } = listing.declaration;
    const { id, ids } = listing.ofSource;
    mustBeAllowedAny(listing, caller);
    await this.parts.writer.settle(listing.ofSource);
    const edit = await this.parts.dataSource
      .getRepository(Edit)
      .findOneBy({ id: number, sourceId: id, listing: name });
    if (edit === null) throw new Problem("not-found", `The listing has no edit ${number}`);
    if (edit.caller !== caller.id && !mayAs("author", caller)) {
      throw new Problem("not-allowed", "Only an author can take back what somebody else changed");
    }
    if (edit.undoneBy !== null || edit.undoes !== null) {
      const detail =
        edit.undoneBy === null
          ? `Edit ${number} took back edit ${edit.undoes}: make that change again instead`
          : `Edit ${number} was taken back already, by edit ${edit.undoneBy}`;
      throw new Problem("already-there", detail);
    }
    if (edit.ids !== ids) {
      const detail = `The records of edit ${number} are no longer there: a file replaced them`;
      throw new Problem("already-there", detail);
    }
    const note = { listing: name, action: null, caller, undoes: number };
    const written = await this.parts.writer.write(listing.ofSource, note, async (run, table) => {
      const { groups, changed } = await takenBack(this.parts.gateway, run, table, number);
      if (changed.length > 0) throw changedSince(number, changed);
      return groups;
    });
    return { records: written.records, changed: written.changed, left: null, edit: written.number };
  }

  /** The edits of a listing, or those of one of its records; the latest first. */
  async history(
    { listing, caller, records }: ChangeRequest,
    {
      record,
      before,
      limit = 100,
    }: { readonly record?: string; readonly before?: number; readonly limit?: number },
  ): Promise<readonly EditDescription[]> {
    mustBeAllowedAny(listing, caller);
    const { ofSource, declaration } = listing;
    await this.parts.writer.settle(ofSource);
    const isAuthor = mayAs("author", caller);
    const query = this.parts.dataSource
      .getRepository(Edit)
      .createQueryBuilder("edit")
      .where("edit.sourceId = :source", { source: ofSource.id })
      .orderBy("edit.id", "DESC")
      .limit(limit);
    if (before !== undefined) query.andWhere("edit.id < :before", { before });
    if (record === undefined)
      query.andWhere("edit.listing = :listing", { listing: declaration.name });
    else {
      if (!isAuthor) {
        const prepared = await records.prepare(listing, new Map(), caller);
        if ((await records.oneOfAll(prepared, record)) === null) throw noRecord(record);
      }
      query
        .andWhere("edit.ids = :ids", { ids: ofSource.ids })
        .andWhere(
          "edit.id IN (SELECT cell.editId FROM edited_cells AS cell WHERE cell.recordId = :record)",
          { record },
        );
    }
    const edits = await query.getMany();
    const columns = isAuthor ? null : listing.shown;
    const cells = await cellsOf(this.parts.gateway, edits, { record: record ?? null, columns });
    return edits.map((edit) => describeEdit(edit, cells.get(edit.id) ?? []));
  }

  /** Gives one cell of a source another text, whatever it is read as. */
  async repair(
    name: string,
    { id, column, value }: Shown<typeof REPAIR>,
    caller: Caller,
  ): Promise<RepairedCell> {
    const source = this.parts.sources.needOwn(name);
    const declared = await this.parts.sources.declared(name);
    const found = declared.get(column);
    if (found === undefined || source.imported === null) {
      const known = [...declared.keys()];
      throw problemOf([fault("column.unknown", { name: column, known }, { path: "column" })]);
    }
    if (column === source.key) {
      throw new Problem("invalid-value", `${column} is the key of ${name}: the record's own name`);
    }
    let before: string | null = null;
    const note = { listing: null, action: null, caller, undoes: null };
    await this.parts.writer.write(source, note, async (run, table) => {
      const [record] = await table.locked(run, [column], [String(id)]);
      if (record === undefined) throw new Problem("not-found", `${name} has no record ${id}`);
      before = record.cells.get(column) ?? null;
      return [{ ids: [record.id], cells: new Map([[column, value]]) }];
    });
    const { state, fault: wrong } = writtenCell(found, column, source.imported, value);
    const repaired = { id, column, value, before, state };
    return wrong === null ? repaired : { ...repaired, fault: faultOf(wrong, value) };
  }

  /** How many cells of a column were edited. */
  async countIn(source: string, column: string): Promise<number> {
    const { id } = this.parts.sources.need(source);
    const [[count] = []] = await this.parts.gateway.read({
      text: "SELECT COUNT(*) FROM edited_cells AS cell JOIN edits AS made ON made.id = cell.editId WHERE made.sourceId = ? AND cell.columnName = ?",
      values: [id, column],
    });
    return Number(count ?? 0);
  }

  /** Renames a listing in its history. */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<void> {
    await manager.getRepository(Edit).update({ listing: from }, { listing: to });
  }

  /** Gives the edits of a key to the one that takes its place. */
  async moveTo(before: string, after: string): Promise<void> {
    await this.parts.dataSource.getRepository(Edit).update({ caller: before }, { caller: after });
  }

  #mustBeAllowed(right: "edit" | "act", { listing, caller }: ChangeRequest): void {
    const { declaration, ofSource } = listing;
    if (!mayChange(right, caller, declaration)) throw notAllowed(right, declaration, caller);
    const reason = this.parts.sources.readOnlyReason(ofSource);
    if (reason === null) return;
    throw new Problem(
      "already-there",
      `The records of ${ofSource.name} cannot be changed: ${reason}`,
    );
  }

  async #contextOf({ listing, derivedAt }: PreparedRequest, caller: Caller): Promise<EditContext> {
    const { zone, calendar, ofSource } = listing;
    const declared = await this.parts.sources.declared(ofSource.name);
    const readings = [...declared].flatMap(([name, column]) => {
      const read = asRead(column, ofSource);
      return read.type === "date" ? [[name, read.reading] as const] : [];
    });
    const steps = readings.flatMap(([name, reading]) => {
      const stored = ofSource.table?.columns.get(name);
      return stored === undefined ? [] : [[name, storedStep(stored, reading)] as const];
    });
    const written = [...declared].flatMap(([name, column]) => {
      const form = writtenOf(column);
      return form === null ? [] : [[name, form] as const];
    });
    return {
      written: new Map(written),
      columns: new Map(ofSource.columns.map((column) => [column.name, column])),
      readings: new Map(readings),
      steps: new Map(steps),
      window: { asOf: derivedAt, zone, calendar },
      caller: caller.name,
    };
  }
}

/** The declaration without its key among the editable columns. */
function declarationFor({ declaration, ofSource }: ServedListing) {
  const editable = declaration.editable?.filter((name) => name !== ofSource.key) ?? [];
  return { ...declaration, editable };
}

/** The keys of records that a filter keeps, which nobody else can change until the transaction has ended. */
async function keysIn(
  run: Run,
  { table }: PreparedRequest,
  filter: Filter,
  { only, limit }: { readonly only?: readonly string[]; readonly limit: number },
  locking = " FOR UPDATE",
): Promise<readonly string[]> {
  const { text, values } = pageStatement(
    {
      filter,
      columns: [],
      order: { column: null, descending: false },
      after: null,
      limit,
      counts: [],
      ...(only === undefined ? {} : { only }),
    },
    table,
    MARIADB,
  );
  const rows = await run({ text: `${text}${locking}`, values });
  return rows.map(([key]) => String(key));
}

/** Those of some records that a filter keeps. */
async function keysAmong(
  run: Run,
  prepared: PreparedRequest,
  filter: Filter,
  ids: readonly string[],
  locking?: string,
): Promise<readonly string[]> {
  const found: string[] = [];
  for (const only of batches(ids)) {
    found.push(...(await keysIn(run, prepared, filter, { only, limit: MAX_CHANGED + 1 }, locking)));
  }
  // To a database 12abc may be 12.
  const wanted = new Set(ids);
  return found.filter((key) => wanted.has(key));
}

function notAllowed(
  right: "edit" | "act",
  { allow }: ServedListing["declaration"],
  caller: Caller,
): Problem {
  const least = allow?.[right] ?? "author";
  const what = right === "edit" ? "Editing records" : "Using actions";
  const detail =
    typeof least === "string" && least !== "nobody"
      ? `${what} of this listing needs the role ${least}, and the key has ${caller.role}`
      : `${what} of this listing is not allowed to you`;
  return new Problem("not-allowed", detail);
}

function mustBeAllowedAny({ declaration }: ServedListing, caller: Caller): void {
  const { editable, actions } = changeRights(caller, declaration);
  if (editable.length > 0 || actions.length > 0 || mayAs("author", caller)) return;
  throw new Problem("not-allowed", "The edits of a listing are shown to those who can make them");
}
