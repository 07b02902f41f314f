import {
  checkListing,
  fault,
  findZone,
  UTC,
  type Catalogue,
  type ListingDeclaration,
  type ParameterDeclaration,
  type Zone,
} from "@orisma/core";
import type { DataSource } from "typeorm";
import { problemOf, type Caller, Problem } from "../http/index.js";
import type { KnownSource, Sources } from "../sources/index.js";
import { Listing } from "./entities.js";
import type { ListingSent } from "./schema.js";

/** Records on a page unless the declaration says otherwise, and at most. */
const PAGE_SIZE = 50;
const LARGEST_PAGE_UNLESS_DECLARED = 500;

/** A listing ready to serve. */
export interface ServedListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  readonly zone: Zone;
  readonly source: KnownSource;
  readonly columns: Catalogue;
  /** The columns shown, in order. */
  readonly shown: readonly string[];
}

/** A listing as it is told. */
export interface ListingDescription extends ListingDeclaration {
  readonly version: number;
}

interface HeldListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  /** Made when first asked for, and again when the source has changed. */
  served: ServedListing | null;
}

/** Declared listings, held in memory since every request for records asks for one. */
export class Listings {
  readonly #held = new Map<string, HeldListing>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly sources: Sources,
  ) {}

  /** Reads the listings from the database. */
  async load(): Promise<void> {
    for (const { name, declaration, version } of await this.dataSource
      .getRepository(Listing)
      .find()) {
      this.#held.set(name, { declaration, version, served: null });
    }
  }

  /** The listings that a caller may read, by name. */
  list(caller: Caller): readonly ListingDescription[] {
    return [...this.#held.values()]
      .map(({ declaration, version }): ListingDescription => ({ ...declaration, version }))
      .filter(({ name }) => caller.listings?.includes(name) ?? true)
      .sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  /** A listing that a caller may read; throws a problem for one that is not there for them. */
  need(name: string, caller: Caller): ServedListing {
    const held = this.#held.get(name);
    if (held === undefined || !(caller.listings?.includes(name) ?? true)) {
      // One answer for both, so that a reader cannot find out what else there is.
      const known = this.list(caller).map((each) => each.name);
      throw problemOf([fault("name.unknown", { what: "listing", name, known })]);
    }
    const source = this.sources.need(held.declaration.source);
    if (held.served?.source !== source) held.served = serve(held, source);
    return held.served;
  }

  /** Declares a listing, or a new version of it; the same declaration again changes nothing. */
  async declare(
    name: string,
    sent: ListingSent,
  ): Promise<ListingDescription & { created: boolean }> {
    const source = this.sources.need(sent.source);
    const declaration = complete(name, sent);
    const faults = checkListing(declaration, catalogueOf(source));
    if (faults.length > 0) throw problemOf(faults);
    const held = this.#held.get(name);
    if (held !== undefined && JSON.stringify(held.declaration) === JSON.stringify(declaration)) {
      return { ...declaration, version: held.version, created: false };
    }
    const lower = name.toLowerCase();
    const clash = [...this.#held.keys()].find(
      (each) => each !== name && each.toLowerCase() === lower,
    );
    if (clash !== undefined) throw problemOf([fault("name.taken", { name: clash })]);
    const version = (held?.version ?? 0) + 1;
    const repository = this.dataSource.getRepository(Listing);
    const found = await repository.findOneBy({ name });
    await repository.save({
      ...(found === null ? {} : { id: found.id }),
      name,
      version,
      declaration,
      source: { id: source.id },
    });
    this.#held.set(name, { declaration, version, served: null });
    return { ...declaration, version, created: held === undefined };
  }

  /** Ends a listing. */
  async remove(name: string, caller: Caller): Promise<void> {
    this.need(name, caller);
    await this.dataSource.getRepository(Listing).delete({ name });
    this.#held.delete(name);
  }

  /** Throws a problem if listings speak of a source, which then cannot end. */
  mustNotUse(source: string): void {
    const users = [...this.#held.values()].filter(
      ({ declaration }) => declaration.source === source,
    );
    if (users.length === 0) return;
    const names = users.map(({ declaration }) => declaration.name).join(", ");
    throw new Problem(
      "already-there",
      `The source is used by ${names}; remove these listings first`,
    );
  }
}

/** Throws a problem where the source has changed so that the listing does not fit it any more. */
function serve({ declaration, version }: HeldListing, source: KnownSource): ServedListing {
  const columns = catalogueOf(source);
  const faults = checkListing(declaration, columns);
  if (faults.length > 0) throw problemOf(faults);
  const zone = findZone(declaration.zone);
  const shown = declaration.columns.length > 0 ? declaration.columns : [...columns.keys()];
  return { declaration, version, zone: zone.ok ? zone.value : UTC, source, columns, shown };
}

function catalogueOf({ columns }: KnownSource): Catalogue {
  return new Map(columns.map((column) => [column.name, column]));
}

/** A declaration with every default filled in. */
function complete(name: string, sent: ListingSent): ListingDeclaration {
  const allowed = sent.order.allowed ?? [sent.mainDate];
  const most = sent.page.most ?? Math.max(LARGEST_PAGE_UNLESS_DECLARED, sent.page.size ?? 0);
  return {
    name,
    title: sent.title ?? name,
    source: sent.source,
    zone: sent.zone,
    mainDate: sent.mainDate,
    parameters: sent.parameters.map(parameterOf),
    columns: sent.columns,
    order: { allowed, default: sent.order.default ?? `-${allowed[0] ?? sent.mainDate}` },
    page: { size: sent.page.size ?? Math.min(PAGE_SIZE, most), most },
    reversed: sent.reversed,
  };
}

function parameterOf(sent: ListingSent["parameters"][number]): ParameterDeclaration {
  const { name, type, column, comparison, pair, blanks, label } = sent;
  return {
    name,
    type,
    column,
    comparison,
    blanks,
    ...(pair === undefined ? {} : { pair }),
    ...(label === undefined ? {} : { label }),
  };
}
