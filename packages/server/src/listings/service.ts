import {
  LISTING,
  type Answer,
  type Calls,
  type CopiedListing,
  type ListingDescription,
  type ListingSent,
  type ColumnUse,
  type OverrideDescription,
  type ListingVersion as ListingVersionView,
  type ReadBody,
} from "@orisma/contract";
import {
  MS_PER_DAY,
  checkListing,
  differenceInWords,
  epochMs,
  fault,
  savedListing,
  takesDates,
  type Fault,
  type ListingDeclaration,
  type PlanContext,
  type SentParameters,
  type WindowsByName,
} from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import type { HolidayLists } from "../calendars/index.js";
import { mayAs, problemOf, sentValues, type Caller, Problem, parse } from "../http/index.js";
import type { BrokenListing, KnownSource, ListingColumns, Sources } from "../sources/index.js";
import type { NamedWindows } from "../windows/index.js";
import { complete } from "./complete.js";
import { FormerName, Listing, ListingVersion, type Override } from "./entities.js";
import { describeOverride, withOverrides, type NewOverride, type Overrides } from "./overrides.js";
import { LastUses } from "./last-uses.js";
import { mayRead } from "./rights.js";
import { changedColumns, editingFaults, resumeFaults } from "./editing.js";
import { endpointAt, pathTaken, type FoundEndpoint } from "./endpoint-paths.js";
import { Versions } from "./versions.js";
import { declarationFor } from "./shown-to.js";
import {
  brokenText,
  catalogueOf,
  prepare,
  relatedColumns,
  relatedOf,
  serve,
  type ServedListing,
  type Surroundings,
} from "./served.js";

/** A listing that may not fit its source any more: then it has only what is still there, and why. */
export interface ListingView {
  readonly listing: ServedListing;
  /** As it was declared, without what is set from outside. */
  readonly declared: ListingDeclaration;
  readonly broken: string | null;
}

/** A declaration that is tried, beside the one that serves. */
export interface ListingTrial {
  readonly before: {
    readonly declaration: ListingDeclaration;
    readonly served: ServedListing | null;
  } | null;
  readonly after: ServedListing;
}

/** What listings stand on, as it is to be. */
interface Changed {
  readonly sources?: ReadonlyMap<string, KnownSource>;
  readonly named?: WindowsByName;
}

/** What is renamed with a listing. */
type Renaming = (manager: EntityManager, from: string, to: string) => Promise<() => void>;

/** What is sent to a listing regularly, and by what, in words. */
export interface ListingUse {
  readonly what: string;
  readonly parameters: SentParameters;
}

interface HeldListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  /** Made when first requested, and again when the source or a list of days off has changed. */
  served: {
    readonly listing: ServedListing;
    readonly holidays: number;
    /** Those in force, of which it may have omitted some that do not fit. */
    readonly overrides: readonly Override[];
  } | null;
}

/** Declared listings, held in memory since every request for records asks for one. */
export class Listings {
  readonly #held = new Map<string, HeldListing>();
  readonly #versions: Versions;
  readonly lastUses: LastUses;
  /** Names that listings had before, and until when they lead to them. */
  readonly #former = new Map<string, { readonly name: string; readonly until: number }>();
  #renaming: Renaming = () => Promise.resolve(() => undefined);
  #declared: (source: string) => void = () => undefined;
  #removing: (manager: EntityManager, name: string) => Promise<void> = () => Promise.resolve();
  #uses: (name: string) => Promise<readonly ListingUse[]> = () => Promise.resolve([]);
  /** The last change, which the next one waits for. */
  #last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly dataSource: DataSource,
    private readonly sources: Sources,
    private readonly holidays: HolidayLists,
    private readonly windows: NamedWindows,
    readonly overrides: Overrides,
    private readonly now: () => number,
  ) {
    this.#versions = new Versions(dataSource);
    this.lastUses = new LastUses(dataSource, now);
  }

  /** The names of all listings. */
  names(): readonly string[] {
    return [...this.#held.keys()];
  }

  /** Registers what else is renamed with a listing, in its transaction; what it returns is called after that. */
  onRenaming(renaming: Renaming): void {
    this.#renaming = renaming;
  }

  /** Registers what knows what is sent to listings regularly. */
  onUses(uses: (name: string) => Promise<readonly ListingUse[]>): void {
    this.#uses = uses;
  }

  /** Registers what else ends with a listing, in its transaction. */
  onRemoving(removing: (manager: EntityManager, name: string) => Promise<void>): void {
    this.#removing = removing;
  }

  /** The name of the source of a listing; null where there is no listing of the name. */
  sourceOf(name: string): string | null {
    return this.#held.get(name)?.declaration.source ?? null;
  }

  /** What is sent to a listing regularly. */
  usesOf(name: string): Promise<readonly ListingUse[]> {
    return this.#uses(name);
  }

  /** The overrides in force that a declaration would put out of force, a line each. */
  unfitOverrides({ before, after }: ListingTrial): readonly string[] {
    if (before === null) return [];
    const { declaration } = after;
    return this.#fitting(before.declaration, this.overrides.inForce(declaration.name))
      .filter((each) => this.#overrideFaults(declaration, each).length > 0)
      .map(
        ({ parameter, value, by }) =>
          `the default “${String(value)}” that ${by} set for ${parameter} would not be applied`,
      );
  }

  /** What of the listings stands on a column of a source: the places in their declarations. */
  columnUses(source: string, column: string): readonly ColumnUse[] {
    const known = this.sources.need(source);
    if (!known.columns.some(({ name }) => name === column)) {
      const names = known.columns.map(({ name }) => name);
      throw problemOf([fault("column.unknown", { name: column, known: names })]);
    }
    const without = {
      ...known,
      columns: known.columns.filter(({ name }) => name !== column),
    };
    const placesOf = (faults: readonly Fault[]) => faults.map(({ path = "" }) => path);
    return [...this.#held.values()]
      .map(({ declaration }) => declaration)
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .flatMap((declaration) => {
        const now = placesOf(this.#misfits(declaration));
        const then = this.#misfits(declaration, { sources: new Map([[source, without]]) });
        const places = [...new Set(placesOf(then).filter((each) => !now.includes(each)))];
        return places.length === 0 ? [] : [{ listing: declaration.name, places }];
      });
  }

  /** Registers what is called with its source when a listing is declared. */
  onDeclared(declared: (source: string) => void): void {
    this.#declared = declared;
  }

  /** The columns by which the listings of a source are filtered. */
  filteredColumns(source: string): readonly ListingColumns[] {
    return [...this.#held.values()].flatMap(({ declaration }) => {
      if (declaration.source !== source) return [];
      const filtered = declaration.parameters.flatMap((each) => {
        const columns = takesDates(each) ? [] : (each.columns ?? []);
        return each.column === undefined ? columns : [each.column, ...columns];
      });
      return [{ mainDate: declaration.mainDate, filtered }];
    });
  }

  /** Reads the listings from the database. */
  async load(): Promise<void> {
    for (const { name, declaration, version, lastUsedAt } of await this.dataSource
      .getRepository(Listing)
      .find()) {
      this.#held.set(name, { declaration, version, served: null });
      this.lastUses.hold(name, lastUsedAt);
    }
    for (const { former, name, until } of await this.dataSource.getRepository(FormerName).find()) {
      this.#former.set(former, { name, until });
    }
  }

  /** The listings that a caller may read, by name. */
  list(caller: Caller): readonly ListingDescription[] {
    return [...this.#held.values()]
      .filter(({ declaration }) => mayRead(caller, declaration))
      .map(({ declaration, version }): ListingDescription => {
        const broken = brokenText(this.#misfits(declaration));
        const seen = declarationFor(caller, declaration, this.#shownIn(declaration));
        return {
          ...seen,
          version,
          ...(broken === null ? {} : { broken }),
          // What others do is no reader's matter.
          ...(mayAs("author", caller) ? { lastUsedAt: this.#lastUsed(declaration.name) } : {}),
        };
      })
      .sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  #lastUsed(name: string): string | null {
    const at = this.lastUses.of(name);
    return at === null ? null : new Date(at).toISOString();
  }

  /** The columns that a listing shows; of one that shows all those that it speaks of. */
  #shownIn({
    columns,
    derived = {},
    relations = {},
    source,
  }: ListingDeclaration): readonly string[] {
    if (columns.length > 0) return columns;
    const related = Object.entries(relations).flatMap(([name, each]) =>
      each.columns.map((column) => `${name}.${column}`),
    );
    const own = this.sources.get(source)?.columns.map(({ name }) => name) ?? [];
    return [...own, ...related, ...Object.keys(derived)];
  }

  /** The listings that cannot be served, since they no longer fit their sources. */
  broken(): readonly string[] {
    return [...this.#held.values()]
      .filter(({ declaration }) => this.#misfits(declaration).length > 0)
      .map(({ declaration }) => declaration.name)
      .sort();
  }

  /** The listings that are served now, and would not be if sources or named windows were changed. */
  brokenBy(changed: Changed): readonly BrokenListing[] {
    const declarations = [...this.#held.values()].map(({ declaration }) => declaration);
    return declarations
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .flatMap((declaration) => {
        if (this.#misfits(declaration).length > 0) return [];
        const reason = brokenText(this.#misfits(declaration, changed));
        return reason === null ? [] : [{ listing: declaration.name, reason }];
      });
  }

  /** In what a declaration does not fit what it stands on, or what is to take its place. */
  #misfits(
    declaration: ListingDeclaration,
    { sources = new Map(), named = this.windows.byName() }: Changed = {},
  ): readonly Fault[] {
    const get = (name: string) => sources.get(name) ?? this.sources.get(name);
    const source = get(declaration.source);
    if (source === null) return [];
    const related = relatedColumns(relatedOf(declaration, { get }), source);
    return checkListing(declaration, catalogueOf(source), { related, named });
  }

  /** A listing that a caller may read; throws a problem for one that is not there for them. */
  need(name: string, caller: Caller): ServedListing {
    const held = this.#heldFor(name, caller);
    const source = this.sources.need(held.declaration.source);
    const { version } = this.holidays;
    const { served } = held;
    const overrides = this.overrides.inForce(name);
    const isSame =
      served?.listing.ofSource === source &&
      served.holidays === version &&
      served.overrides === overrides &&
      served.listing.named === this.windows.byName() &&
      [...served.listing.related].every(([each, known]) => this.sources.get(each) === known);
    if (served !== null && isSame) return served.listing;
    const fitting = this.#fitting(held.declaration, overrides);
    const declaration = withOverrides(held.declaration, fitting);
    const around = { ...this.#surroundings(), overrides: fitting };
    const listing = serve({ ...held, declaration }, source, this.sources, around);
    held.served = { listing, holidays: version, overrides };
    return listing;
  }

  /** The overrides that a declaration can be served with: others would stop it, and are not applied. */
  #fitting(declaration: ListingDeclaration, overrides: readonly Override[]): readonly Override[] {
    return overrides.filter((each) => this.#overrideFaults(declaration, each).length === 0);
  }

  #overrideFaults(
    declaration: ListingDeclaration,
    override: Pick<Override, "parameter" | "value">,
  ): readonly Fault[] {
    const { parameter: name, value } = override;
    const known = declaration.parameters.map((each) => each.name);
    if (!known.includes(name)) return [fault("name.unknown", { what: "parameter", name, known })];
    const changed = withOverrides(declaration, [override as Override]);
    const faults = this.#misfits(changed);
    return faults.map((each) => ({ ...each, path: "value", value: String(value) }));
  }

  /** Sets what applies to a parameter where nothing is sent; throws a problem for a value that does not fit. */
  async override(
    name: string,
    parameter: string,
    sent: NewOverride,
    caller: Caller,
  ): Promise<OverrideDescription> {
    const { declaration } = this.#heldFor(name, caller);
    const faults = this.#overrideFaults(declaration, { parameter, value: sent.value });
    if (faults.length > 0) throw problemOf(faults);
    if (sent.until !== null && sent.until <= this.now()) {
      throw new Problem("invalid-value", "An override ends in the future, or when it is removed");
    }
    return this.overrides.set(name, parameter, sent, caller);
  }

  /** All that were set from outside, and what became of each. */
  listOverrides(
    name: string,
    caller: Caller,
  ): Answer<Calls["GET /v1/listings/{name}/overrides"]>["overrides"] {
    const { declaration } = this.#heldFor(name, caller);
    const inForce = this.overrides.inForce(name);
    const fitting = this.#fitting(declaration, inForce);
    return this.overrides.of(name).map((each) => ({
      ...describeOverride(each),
      state: fitting.includes(each) ? "applied" : inForce.includes(each) ? "unfit" : "expired",
    }));
  }

  /** How many calls of a listing run at once at most, where it says so. */
  admissionOf(name: string): { readonly maxOfListing?: number } {
    const max = this.#held.get(name)?.declaration.maxConcurrent;
    return max === undefined ? {} : { maxOfListing: max };
  }

  /** A listing that a caller may read, whether or not it can be served. */
  view(name: string, caller: Caller): ListingView {
    const held = this.#heldFor(name, caller);
    const source = this.sources.need(held.declaration.source);
    const broken = brokenText(this.#misfits(held.declaration));
    const { declaration } = held;
    if (broken === null) {
      return { listing: this.need(name, caller), declared: declaration, broken };
    }
    const related = relatedOf(declaration, this.sources);
    const listing = prepare(held, source, related, this.#surroundings());
    const shown = listing.shown.filter(
      (column) => listing.columns.has(column) || listing.derivedColumns.has(column),
    );
    return { listing: { ...listing, shown }, declared: declaration, broken };
  }

  #surroundings(): Surroundings {
    return { holidays: this.holidays, named: this.windows.byName() };
  }

  #heldFor(name: string, caller: Caller): HeldListing {
    const held = this.#held.get(name);
    if (held !== undefined && mayRead(caller, held.declaration)) return held;
    // One answer for both, so that a reader cannot find out what else there is.
    const known = this.list(caller).map((each) => each.name);
    throw unknownListing(name, known);
  }

  /**
   * A declaration as it would be served, and what serves now: null for a new one, and `served` null
   * for one that does not fit its source any more. Throws a problem with every fault of the new one.
   */
  trial(name: string, sent: ListingSent): ListingTrial {
    const declaration = this.#checked(name, sent);
    const source = this.sources.need(declaration.source);
    const held = this.#held.get(name);
    const version = (held?.version ?? 0) + 1;
    const around = this.#surroundings();
    const after = serve({ declaration, version }, source, this.sources, around);
    if (held === undefined) return { before: null, after };
    const old = this.sources.need(held.declaration.source);
    const isBroken = this.#misfits(held.declaration).length > 0;
    const served = isBroken ? null : serve(held, old, this.sources, this.#surroundings());
    return { before: { declaration: held.declaration, served }, after };
  }

  /** A declaration with its defaults; throws a problem with every fault of it. */
  #checked(name: string, sent: ListingSent): ListingDeclaration {
    const source = this.#sourceOf(sent);
    const declaration = complete(name, sent, source, this.#held.get(name)?.declaration ?? null);
    const related = relatedColumns(relatedOf(declaration, this.sources), source);
    const asOf = epochMs(this.now());
    const checked = checkListing(declaration, catalogueOf(source), {
      related,
      asOf,
      named: this.windows.byName(),
    });
    // What is not declared is made of the main date, whose fault is reported by itself.
    const derivedColumns = [
      ...(sent.order.allowed === undefined && sent.order.default === undefined ? ["order."] : []),
      ...(sent.parameters === undefined ? ["parameters."] : []),
    ];
    const faults = checked.filter(
      ({ path = "" }) =>
        !derivedColumns.some(
          (part) => path.startsWith(part) && !path.startsWith("order.tieBreakers"),
        ),
    );
    const lists = this.holidays.list().map((each) => each.name);
    for (const [index, list] of (declaration.calendar?.holidayLists ?? []).entries()) {
      if (lists.includes(list)) continue;
      const facts = { what: "list of days off", name: list, known: lists };
      const place = { path: `calendar.holidayLists.${index}`, value: list };
      faults.push(fault("name.unknown", facts, place));
    }
    faults.push(
      ...editingFaults(declaration, source, this.sources.readOnlyReason(source)),
      ...resumeFaults(declaration, source),
    );
    if (sent.rows !== undefined && source.unnest === null) {
      const facts = { name: "rows", reason: `${source.name} has no values inside` };
      faults.push(fault("parameter.setting", facts, { path: "rows", value: sent.rows }));
    }
    const pathFault = pathTaken(declaration, this.#declarations());
    if (pathFault !== null) faults.push(pathFault);
    const nameFault = this.#nameTaken(name, "name");
    if (nameFault !== null) {
      throw faults.length === 0
        ? problemOf([nameFault])
        : problemOf([...faults, nameFault], "invalid-value");
    }
    if (faults.length > 0) throw problemOf(faults, "invalid-value");
    return declaration;
  }

  /** That a name differs from another listing's in letter case alone; null where it does not. */
  #nameTaken(name: string, path: string, except: string | null = null): Fault | null {
    const lower = name.toLowerCase();
    const clash = [...this.#held.keys()].find(
      (each) => each !== name && each !== except && each.toLowerCase() === lower,
    );
    return clash === undefined ? null : fault("name.taken", { name: clash }, { path });
  }

  #sourceOf({ source }: ListingSent): KnownSource {
    const found = this.sources.get(source);
    if (found !== null) return found;
    const facts = { what: "source", name: source, known: this.sources.names() };
    throw problemOf(
      [fault("name.unknown", facts, { path: "source", value: source })],
      "invalid-value",
    );
  }

  /** Declares a listing, or a new version of it; the same declaration again changes nothing. */
  declare(
    name: string,
    sent: ListingSent,
    by: string,
  ): Promise<ListingDescription & { created: boolean }> {
    return this.#inTurn(() => this.#declare(name, sent, by));
  }

  /** Serves a version again as a new one, so that no cursor of another is taken for its own. */
  async serveAgain(name: string, version: number, by: string) {
    const { name: _name, ...declaration } = await this.version(name, version);
    return this.declare(name, parse(LISTING, declaration), by);
  }

  /** Does one change after the other: each counts on from the version before it. */
  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.#last.then(work);
    this.#last = done.catch(() => undefined);
    return done;
  }

  async #declare(
    name: string,
    sent: ListingSent,
    by: string,
  ): Promise<ListingDescription & { created: boolean }> {
    return this.#keep(this.#checked(name, sent), by);
  }

  /** Keeps a declaration that was checked, and serves it. */
  async #keep(
    declaration: ListingDeclaration,
    by: string,
  ): Promise<ListingDescription & { created: boolean }> {
    const { name } = declaration;
    const source = this.sources.need(declaration.source);
    const held = this.#held.get(name);
    if (held !== undefined && JSON.stringify(held.declaration) === JSON.stringify(declaration)) {
      return { ...declaration, version: held.version, created: false };
    }
    await this.sources.mustBeWritable(source, changedColumns(declaration));
    if (declaration.resume === true) await this.sources.noteChanges(source.name);
    const version = (await this.#lastVersion(name)) + 1;
    const found = await this.dataSource.getRepository(Listing).findOneBy({ name });
    await this.dataSource.transaction(async (manager) => {
      await manager.getRepository(Listing).save({
        ...(found === null ? {} : { id: found.id }),
        name,
        version,
        declaration,
        source: { id: source.id },
      });
      const at = this.now();
      await manager.getRepository(ListingVersion).insert({ name, version, declaration, at, by });
    });
    this.#held.set(name, { declaration, version, served: null });
    // Whoever takes a name that another listing had before has it.
    if (this.#former.delete(name)) {
      await this.dataSource.getRepository(FormerName).delete({ former: name });
    }
    this.#declared(declaration.source);
    return { ...declaration, version, created: held === undefined };
  }

  /** The last version that there was of a name, which goes on where it had ended. */
  async #lastVersion(name: string): Promise<number> {
    return Math.max(await this.#versions.last(name), this.#held.get(name)?.version ?? 0);
  }

  /** Every version that there was of a listing, the latest first, with what each changed. */
  async versions(name: string): Promise<readonly ListingVersionView[]> {
    const serving = this.#held.get(name)?.version ?? null;
    return (await this.#versions.all(name, serving)) ?? this.#unknown(name);
  }

  /** A listing as it was declared in a version. */
  async version(name: string, version: number): Promise<ListingDeclaration> {
    return (await this.#versions.one(name, version)) ?? this.#unknown(name);
  }

  #unknown(name: string): never {
    throw unknownListing(name, [...this.#held.keys()]);
  }

  /**
   * Makes a listing from another, narrowed by bound values; made again it is a new version. Throws a problem
   * where the name is that of a listing that was not made from it.
   */
  async copy(
    from: string,
    sent: ReadBody<Calls["POST /v1/listings/{name}/copies"]>,
    caller: Caller,
  ): Promise<CopiedListing> {
    const base = this.need(from, caller);
    const context = this.#contextOf(base);
    const { bound, defaults, ...rest } = sent;
    const view = { ...rest, bound: sentValues(bound), defaults: sentValues(defaults) };
    // What was set from outside, for a time, is none of the copy.
    const saved = savedListing(this.#heldFor(from, caller).declaration, view, context);
    if (!saved.ok) throw problemOf(saved.faults);
    const declaration = saved.value;
    const faults = this.#misfits(declaration);
    if (faults.length > 0) throw problemOf(faults);
    const { created: _created, ...listing } = await this.#inTurn(() => {
      const taken = this.#nameTaken(declaration.name, "name");
      if (taken !== null) throw problemOf([taken]);
      const held = this.#held.get(declaration.name);
      const origin = held?.declaration.basedOn ?? "";
      if (held !== undefined && origin !== from && this.nameNow(origin) !== from) {
        throw new Problem("already-there", `There is a listing ${declaration.name} already`);
      }
      return this.#keep(declaration, caller.name);
    });
    const differences = differenceInWords(base.declaration, declaration, context);
    return { listing, differences, alike: this.#alike(declaration) };
  }

  /** The other listings of a source with the very same conditions and defaults. */
  #alike({ name, source, fixedFilter, parameters }: ListingDeclaration): readonly string[] {
    const bounds = (each: Pick<ListingDeclaration, "fixedFilter" | "parameters">) =>
      JSON.stringify([
        each.fixedFilter ?? null,
        each.parameters.map((parameter) => [parameter.name, parameter.default ?? null]),
      ]);
    const own = bounds({ ...(fixedFilter !== undefined && { fixedFilter }), parameters });
    return [...this.#held.values()]
      .map(({ declaration }) => declaration)
      .filter((each) => each.name !== name && each.source === source && bounds(each) === own)
      .map((each) => each.name)
      .sort();
  }

  #contextOf({ zone, calendar, columns, forms, named }: ServedListing): PlanContext {
    const asOf = epochMs(this.now());
    return { asOf, zone, calendar, columns, forms, named, caller: "caller()", allowed: [] };
  }

  /**
   * Gives a listing another name, with all of its versions; the old one is redirected for so many days. Throws
   * a problem where the new one is taken, or no name.
   */
  rename(
    name: string,
    { to, redirectDays }: ReadBody<Calls["POST /v1/listings/{name}/rename"]>,
    caller: Caller,
  ): Promise<ListingDescription> {
    return this.#inTurn(async () => {
      const { declaration, version } = this.#heldFor(name, caller);
      const changed = { ...declaration, name: to };
      const faults = this.#misfits(changed);
      if (faults.length > 0) throw problemOf(faults);
      const taken = this.#nameTaken(to, "to", name);
      if (taken !== null) throw problemOf([taken]);
      if (this.#held.has(to)) {
        throw new Problem("already-there", `There is a listing ${to} already`);
      }
      const until = this.now() + redirectDays * MS_PER_DAY;
      const former = { former: name, name: to, until };
      // Versions go on from those that an earlier listing of the new name had, which stay.
      const isOther = to.toLowerCase() !== name.toLowerCase();
      const before = isOther ? await this.#lastVersion(to) : 0;
      const serving = version + before;
      const renamed = await this.dataSource.transaction(async (manager) => {
        await manager
          .getRepository(Listing)
          .update({ name }, { name: to, version: serving, declaration: changed });
        await manager
          .getRepository(ListingVersion)
          .createQueryBuilder()
          .update()
          .set({ name: to, version: () => "version + :before" })
          .where({ name })
          .setParameters({ before })
          .execute();
        await manager.getRepository(FormerName).delete({ former: to });
        // Names before that led here lead on.
        await manager.getRepository(FormerName).update({ name }, { name: to });
        if (redirectDays > 0) await manager.getRepository(FormerName).save(former);
        return this.#renaming(manager, name, to);
      });
      renamed();
      this.lastUses.move(name, to);
      this.#held.delete(name);
      this.#held.set(to, { declaration: changed, version: serving, served: null });
      this.#former.delete(to);
      for (const [each, leading] of this.#former) {
        if (leading.name === name) this.#former.set(each, { ...leading, name: to });
      }
      if (redirectDays > 0) this.#former.set(name, { name: to, until });
      return { ...changed, version: serving };
    });
  }

  /** The name that a listing has now which had another; null for a name that leads nowhere. */
  nameNow(former: string): string | null {
    const found = this.#former.get(former);
    if (found === undefined || this.#held.has(former) || found.until <= this.now()) return null;
    return found.name;
  }

  /** Ends a listing; its versions stay. */
  remove(name: string, caller: Caller): Promise<void> {
    return this.#inTurn(async () => {
      this.#heldFor(name, caller);
      await this.dataSource.transaction(async (manager) => {
        await manager.delete(Listing, { name });
        await this.overrides.forget(manager, name);
        await this.#removing(manager, name);
      });
      this.lastUses.move(name, null);
      this.#held.delete(name);
    });
  }

  /** The endpoint of a listing's own that a path leads to, and the values in it; null for none. */
  endpointAt(path: string): FoundEndpoint | null {
    return endpointAt(this.#declarations(), path);
  }

  #declarations(): readonly ListingDeclaration[] {
    return [...this.#held.values()].map(({ declaration }) => declaration);
  }

  /** Whether there is a listing that a caller may read. */
  mayRead(name: string, caller: Caller): boolean {
    const held = this.#held.get(name);
    return held !== undefined && mayRead(caller, held.declaration);
  }

  /** Whether anybody may read a listing, without a key. */
  isPublic(name: string): boolean {
    return this.#held.get(name)?.declaration.public === true;
  }

  /** The places on the web whose pages may read a listing; none of one that is not there. */
  originsOf(name: string): readonly string[] {
    const held = this.#held.get(name) ?? this.#held.get(this.nameNow(name) ?? "");
    return held?.declaration.allowedOrigins ?? [];
  }

  /** Throws a problem if listings speak of a source, which then cannot end. */
  mustNotUse(source: string): void {
    this.#mustBeUnused(
      "source",
      (declaration) =>
        declaration.source === source ||
        Object.values(declaration.relations ?? {}).some((each) => each.source === source),
    );
  }

  /** Throws a problem if listings count working days by a list of days off. */
  mustNotUseHolidays(list: string): void {
    this.#mustBeUnused("list of days off", ({ calendar }) =>
      (calendar?.holidayLists ?? []).includes(list),
    );
  }

  #mustBeUnused(what: string, uses: (declaration: ListingDeclaration) => boolean): void {
    const names = [...this.#held.values()]
      .map(({ declaration }) => declaration)
      .filter(uses)
      .map(({ name }) => name);
    if (names.length === 0) return;
    const detail = `The ${what} is used by ${names.join(", ")}; change or remove these listings first`;
    throw new Problem("already-there", detail);
  }
}

function unknownListing(name: string, known: readonly string[]): Problem {
  return problemOf([fault("name.unknown", { what: "listing", name, known })]);
}
