import type { View } from "@orisma/contract";
import type { SentParameters } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { Problem, type Caller } from "../http/index.js";
import { SavedView } from "./entities.js";

/** Views of one listing that one caller keeps at most. */
const MAX_VIEWS = 100;

/** Keeps the views of listings, each for the one who made it. */
export class Views {
  constructor(
    private readonly dataSource: DataSource,
    private readonly now: () => number,
  ) {}

  /** The views of a listing that a caller keeps, by name. */
  async list(listing: string, { id }: Caller): Promise<readonly View[]> {
    const found = await this.dataSource.getRepository(SavedView).findBy({ listing, caller: id });
    return found.sort((a, b) => a.name.localeCompare(b.name)).map(described);
  }

  /** Keeps a view in place of the one of its name; a default one is the only one. */
  async put(
    listing: string,
    name: string,
    view: { readonly parameters: SentParameters; readonly isDefault: boolean },
    { id: caller }: Caller,
  ): Promise<View> {
    return this.dataSource.transaction(async (manager) => {
      const repository = manager.getRepository(SavedView);
      const own = await repository.findBy({ listing, caller });
      if (own.length >= MAX_VIEWS && !own.some((each) => each.name === name)) {
        const detail = `You keep ${MAX_VIEWS} views of ${listing}, the most there can be: delete one`;
        throw new Problem("too-large", detail);
      }
      if (view.isDefault) await repository.update({ listing, caller }, { isDefault: false });
      const saved = {
        ...{ caller, listing, name },
        parameters: Object.fromEntries(view.parameters),
        isDefault: view.isDefault,
        savedAt: this.now(),
      };
      // Not looked up before: somebody may keep it twice at once.
      await repository.upsert({ ...saved }, ["caller", "listing", "name"]);
      return described(saved);
    });
  }

  /** Deletes a view; throws a problem where a caller keeps none of the name. */
  async remove(listing: string, name: string, { id: caller }: Caller): Promise<void> {
    const repository = this.dataSource.getRepository(SavedView);
    const { affected } = await repository.delete({ listing, name, caller });
    if (affected === 0) throw new Problem("not-found", `You keep no view ${name} of ${listing}`);
  }

  /** Ends the views of a listing with it. */
  async forget(manager: EntityManager, listing: string): Promise<void> {
    await manager.getRepository(SavedView).delete({ listing });
  }

  /** Lets what a key keeps go on with another that takes its place. */
  async moveTo(before: string, after: string): Promise<void> {
    await this.dataSource.getRepository(SavedView).update({ caller: before }, { caller: after });
  }

  /** Lets the views of a listing be those of it under another name. */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<void> {
    await manager.getRepository(SavedView).update({ listing: from }, { listing: to });
  }
}

function described({ name, parameters, isDefault, savedAt }: Omit<SavedView, "id">): View {
  const sent = Object.entries(parameters).map(([each, values]) => [each, [...values]] as const);
  return {
    name,
    parameters: Object.fromEntries(sent),
    isDefault,
    savedAt: new Date(savedAt).toISOString(),
  };
}
