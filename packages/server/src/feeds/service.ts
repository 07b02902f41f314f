import { createHash, randomBytes } from "node:crypto";
import type { CreatedFeed, FeedDescription } from "@orisma/contract";
import type { SentParameters } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { Problem, mayAs, type Caller } from "../http/index.js";
import type { ListingUse } from "../listings/index.js";
import { Feed } from "./entities.js";

/** Private addresses of a listing at most. */
const MAX_FEEDS = 1_000;
const TOKEN_BYTES = 24;

/** What a private address leads to. */
export interface FoundFeed {
  readonly feed: Feed;
  readonly parameters: SentParameters;
  /** With the rights of whoever made it, as a reader of this listing alone. */
  readonly caller: Caller;
  /** Whoever made it, and must still be one who may read the listing. */
  readonly maker: Caller;
}

/** Knows the private addresses of listings. */
export class Feeds {
  constructor(
    private readonly dataSource: DataSource,
    /** Whoever has an id now; null for a key that was revoked, or has expired. */
    private readonly callerOf: (id: string) => Caller | null,
    private readonly now: () => number,
  ) {}

  /** Makes a private address, whose token is shown this once. */
  async create(
    listing: string,
    { name, parameters }: { readonly name: string; readonly parameters: SentParameters },
    caller: Caller,
  ): Promise<CreatedFeed> {
    const repository = this.dataSource.getRepository(Feed);
    if ((await repository.countBy({ listing })) >= MAX_FEEDS) {
      const detail = `${listing} has ${MAX_FEEDS} private addresses, the most there can be: revoke one`;
      throw new Problem("too-large", detail);
    }
    const token = randomBytes(TOKEN_BYTES).toString("base64url");
    const feed = await repository.save(
      repository.create({
        hash: hashOf(token),
        name,
        listing,
        parameters: Object.fromEntries(parameters),
        caller: caller.id,
        createdAt: this.now(),
        deliveredAt: null,
        deliveredTo: null,
        deliveredAddress: null,
        deliveredRecords: null,
      }),
    );
    const calendar = `/feeds/${token}.ics`;
    return { ...described(feed), calendar, feed: `/feeds/${token}.atom` };
  }

  /** The private addresses of a listing that a caller may see: an author all, whoever reads it their own. */
  async list(listing: string, caller: Caller): Promise<readonly FeedDescription[]> {
    const all = await this.dataSource.getRepository(Feed).findBy({ listing });
    return all
      .filter((feed) => mayManage(feed, caller))
      .sort((a, b) => a.id - b.id)
      .map(described);
  }

  /** What the private addresses of a listing send. */
  async uses(listing: string): Promise<readonly ListingUse[]> {
    const all = await this.dataSource.getRepository(Feed).findBy({ listing });
    return all.map(({ name, parameters }) => ({
      what: `the private address for ${name}`,
      parameters: new Map(Object.entries(parameters)),
    }));
  }

  /** Revokes a private address, which leads nowhere from then on. */
  async revoke(listing: string, id: number, caller: Caller): Promise<void> {
    const repository = this.dataSource.getRepository(Feed);
    const feed = await repository.findOneBy({ id, listing });
    if (feed === null || !mayManage(feed, caller)) {
      throw new Problem("not-found", `${listing} has no private address ${id}`);
    }
    await repository.delete({ id });
  }

  /** What a token leads to; null where it was revoked, or whoever made it may not read any more. */
  async find(token: string): Promise<FoundFeed | null> {
    const feed = await this.dataSource.getRepository(Feed).findOneBy({ hash: hashOf(token) });
    const maker = feed === null ? null : this.callerOf(feed.caller);
    if (feed === null || maker === null) return null;
    const { id, listing } = feed;
    // Its name stands for whoever made it where a condition speaks of the caller.
    const { name } = maker;
    const caller: Caller = { id: `feed ${id}`, name, role: "reader", listings: [listing] };
    return { feed, parameters: new Map(Object.entries(feed.parameters)), caller, maker };
  }

  /** Keeps what was delivered last, to whom and when. */
  async delivered(
    { id }: Feed,
    { to, address, records }: { to: string; address: string; records: number },
  ): Promise<void> {
    await this.dataSource.getRepository(Feed).update(
      { id },
      {
        deliveredAt: this.now(),
        deliveredTo: to.slice(0, 200),
        deliveredAddress: address.slice(0, 64),
        deliveredRecords: records,
      },
    );
  }

  /** Lets what a key made go on with another that takes its place. */
  async moveTo(before: string, after: string): Promise<void> {
    await this.dataSource.getRepository(Feed).update({ caller: before }, { caller: after });
  }

  /** Lets private addresses of a listing lead to it under another name. */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<void> {
    await manager.getRepository(Feed).update({ listing: from }, { listing: to });
  }
}

function mayManage(feed: Feed, caller: Caller): boolean {
  return mayAs("author", caller) || feed.caller === caller.id;
}

function described(feed: Feed): FeedDescription {
  const { id, name, listing, parameters, createdAt } = feed;
  const { deliveredAt, deliveredTo, deliveredAddress, deliveredRecords } = feed;
  return {
    id,
    name,
    listing,
    parameters: Object.fromEntries(
      Object.entries(parameters).map(([each, values]) => [each, [...values]]),
    ),
    createdAt: new Date(createdAt).toISOString(),
    delivered:
      deliveredAt === null
        ? null
        : {
            at: new Date(deliveredAt).toISOString(),
            to: deliveredTo ?? "",
            address: deliveredAddress ?? "",
            records: deliveredRecords ?? 0,
          },
  };
}

function hashOf(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}
