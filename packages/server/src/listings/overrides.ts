import type { OverrideDescription } from "@orisma/contract";
import type { ListingDeclaration } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { Problem, type Caller } from "../http/index.js";
import { Override } from "./entities.js";

/** What is to apply to a parameter where nothing is sent, and until when. */
export interface NewOverride {
  readonly value: string | readonly string[];
  readonly reason: string;
  /** Milliseconds since 1970-01-01T00:00:00Z; null until it is removed. */
  readonly until: number | null;
}

const NONE: readonly Override[] = [];

/** Knows the defaults of listings that were set from outside their declarations. */
export class Overrides {
  readonly #held = new Map<string, readonly Override[]>();
  /** Those in force, and the instant from which on others may be. */
  readonly #inForce = new Map<string, { all: readonly Override[]; until: number }>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly now: () => number,
  ) {}

  async load(): Promise<void> {
    for (const each of await this.dataSource.getRepository(Override).find()) {
      this.#held.set(each.listing, [...this.of(each.listing), each]);
    }
  }

  /** All of a listing, in force or not. */
  of(listing: string): readonly Override[] {
    return this.#held.get(listing) ?? NONE;
  }

  /** Those that are in force now: the very same list as long as nothing has changed. */
  inForce(listing: string): readonly Override[] {
    const held = this.of(listing);
    if (held.length === 0) return NONE;
    const now = this.now();
    const known = this.#inForce.get(listing);
    if (known !== undefined && now < known.until) return known.all;
    const all = held.filter(({ until }) => until === null || until > now);
    const next = Math.min(...all.map(({ until }) => until ?? Infinity));
    const found = { all: all.length === 0 ? NONE : all, until: next };
    this.#inForce.set(listing, found);
    return found.all;
  }

  /** Sets one in place of what the parameter had. */
  async set(
    listing: string,
    parameter: string,
    { value, reason, until }: NewOverride,
    caller: Caller,
  ): Promise<OverrideDescription> {
    const made = Object.assign(new Override(), {
      ...{ listing, parameter, value, reason, until },
      at: this.now(),
      by: caller.name,
    });
    await this.dataSource.getRepository(Override).save(made);
    const others = this.of(listing).filter((each) => each.parameter !== parameter);
    this.#replace(listing, [...others, made]);
    return describeOverride(made);
  }

  /** Removes one: the default of the declaration applies again. */
  async remove(listing: string, parameter: string): Promise<void> {
    const found = this.of(listing).find((each) => each.parameter === parameter);
    if (found === undefined) {
      throw new Problem("not-found", `Nothing overrides ${parameter} of ${listing}`);
    }
    await this.dataSource.getRepository(Override).delete({ listing, parameter });
    const others = this.of(listing).filter((each) => each !== found);
    this.#replace(listing, others);
  }

  /** Removes all of a listing that is deleted. */
  async forget(manager: EntityManager, listing: string): Promise<void> {
    await manager.delete(Override, { listing });
    this.#replace(listing, NONE);
  }

  /** Gives those of a listing to it under another name; what is returned is called once that is certain. */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<() => void> {
    await manager.update(Override, { listing: from }, { listing: to });
    return () => {
      const moved = this.of(from).map((each) => Object.assign(each, { listing: to }));
      this.#replace(from, NONE);
      this.#replace(to, moved);
    };
  }

  #replace(listing: string, overrides: readonly Override[]): void {
    this.#inForce.delete(listing);
    if (overrides.length === 0) this.#held.delete(listing);
    else this.#held.set(listing, overrides);
  }
}

/** A declaration with the defaults that are set from outside. */
export function withOverrides(
  declaration: ListingDeclaration,
  overrides: readonly Override[],
): ListingDeclaration {
  if (overrides.length === 0) return declaration;
  const values = new Map(overrides.map(({ parameter, value }) => [parameter, value]));
  return {
    ...declaration,
    parameters: declaration.parameters.map((each) => {
      const value = values.get(each.name);
      return value === undefined ? each : { ...each, default: value };
    }),
  };
}

/** An override as it is shown. */
export function describeOverride(override: Override): OverrideDescription {
  const { parameter, value, reason, by, at, until } = override;
  return {
    ...{ parameter, reason, by },
    value: typeof value === "string" ? value : [...value],
    at: new Date(at).toISOString(),
    until: until === null ? null : new Date(until).toISOString(),
  };
}
