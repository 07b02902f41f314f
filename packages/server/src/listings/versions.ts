import type { ListingVersion as ListingVersionView } from "@orisma/contract";
import { changesBetween, fault, type ListingDeclaration } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import { problemOf } from "../http/index.js";
import { ListingVersion } from "./entities.js";

/** Every version that there was of the listings; versions outlive their listing. */
export class Versions {
  constructor(private readonly dataSource: DataSource) {}

  get #repository() {
    return this.dataSource.getRepository(ListingVersion);
  }

  /** Those of a listing, the latest first, with what each changed; null where there is none. */
  async all(name: string, serving: number | null): Promise<readonly ListingVersionView[] | null> {
    const stored = await this.#repository.find({ where: { name }, order: { version: "ASC" } });
    if (stored.length === 0) return null;
    return stored
      .map(({ version, declaration, at, by }, index) => {
        const before = stored[index - 1];
        const changes = before === undefined ? [] : changesBetween(before.declaration, declaration);
        const isServing = serving === version;
        // Of what was declared before versions were kept neither is known.
        const returned = at === 0 ? null : new Date(at).toISOString();
        return { version, at: returned, by: by === "" ? null : by, changes, isServing };
      })
      .reverse();
  }

  /** A listing as it was declared in a version; null where it has none, and a problem where it has others. */
  async one(name: string, version: number): Promise<ListingDeclaration | null> {
    const found = await this.#repository.findOneBy({ name, version });
    if (found !== null) return found.declaration;
    const stored = await this.#repository.find({ where: { name }, select: { version: true } });
    if (stored.length === 0) return null;
    const known = stored.map((each) => String(each.version));
    throw problemOf([fault("name.unknown", { what: "version", name: String(version), known })]);
  }

  /** The number of the last version of a listing; 0 where there is none. */
  async last(name: string): Promise<number> {
    return (await this.#repository.maximum("version", { name })) ?? 0;
  }
}
