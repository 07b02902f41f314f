import { randomBytes, randomUUID } from "node:crypto";
import { PassThrough } from "node:stream";
import { setTimeout as sleep } from "node:timers/promises";
import type { DeliveryDescription, DeliveryRun, Calls, ReadBody } from "@orisma/contract";
import { epochMs, isoWall, wallAt } from "@orisma/core/internal";
import type { Logger } from "pino";
import { In, LessThanOrEqual, type DataSource, type EntityManager } from "typeorm";
import type { Sealer } from "../access/index.js";
import type { Admission } from "../admission/index.js";
import { Problem, errorForLog, type Caller } from "../http/index.js";
import type { ListingUse, Listings } from "../listings/index.js";
import { MEDIA_TYPES, writeExport, type PreparedRequest, type Records } from "../records/index.js";
import type { Sources } from "../sources/index.js";
import { Delivery, DeliveryRunEntity } from "./entities.js";
import { fileName, type Outbox } from "./outbox.js";
import { nextTime, retryAfterMs } from "./schedule.js";
import type { Webhooks } from "./webhook.js";

/** Milliseconds between two looks at what is due. */
const TICK_MS = 1_000;
/** Looks that are left out where there is nothing to deliver: another process may have added something. */
const IDLE_LOOKS = 20;
/** Milliseconds that what is under way is waited for when the service ends. */
const END_MS = 2_000;
/** Deliveries of a listing at most. */
const MAX_DELIVERIES = 100;
/** Runs that are kept of a delivery. */
const MAX_RUNS = 100;
/** Runs that are attempted at a look. */
const MAX_ATTEMPTS = 10;
/** Milliseconds for which an attempt is nobody else's, extended while it lasts: after a crash it is made again. */
const LEASE_MS = 60_000;
/** Milliseconds between two deliveries of a moving window at least, and two looks at one that cannot be read. */
const LOOK_AGAIN_MS = 60_000;
/** Bytes of a body at most. */
const MAX_BODY = 10 * 1024 ** 2;

/** What deliveries are made with. */
export interface DeliveriesParts {
  readonly dataSource: DataSource;
  readonly sources: Sources;
  readonly listings: Listings;
  readonly records: Records;
  readonly outbox: Outbox;
  readonly webhooks: Webhooks;
  readonly sealer: Sealer;
  /** Whoever has an id now; null for one who is no more. */
  readonly callerOf: (id: string) => Caller | null;
  readonly logger: Logger;
  readonly now: () => number;
}

/**
 * Delivers the records of listings: when they change, when their window does, or at times. What is due is written down
 * before it is attempted, so that each is delivered at least once, whatever happens.
 */
export class Deliveries {
  #timer: NodeJS.Timeout | null = null;
  #tick: Promise<void> = Promise.resolve();
  readonly #ending = new AbortController();
  #admission: Admission | null = null;
  /** The runs that are attempted here now, by their ids: none is twice at a time. */
  readonly #underWay = new Map<number, Promise<DeliveryRun>>();
  /** Looks to be left out. */
  #idle = 0;
  /** Whether the last look failed: each outage is reported once. */
  #isFailing = false;

  constructor(private readonly parts: DeliveriesParts) {}

  get #deliveries() {
    return this.parts.dataSource.getRepository(Delivery);
  }

  get #runs() {
    return this.parts.dataSource.getRepository(DeliveryRunEntity);
  }

  /** Takes up what a crash or an end broke off. */
  async load(): Promise<void> {
    await this.#runs.update({ state: "running" }, { state: "waiting", nextAt: this.parts.now() });
  }

  /** Begins to deliver. */
  start(admission: Admission): void {
    this.#admission = admission;
    const next = () => {
      this.#timer = setTimeout(() => {
        this.#tick = this.#look().finally(next);
      }, TICK_MS).unref();
    };
    next();
  }

  /** Ends delivering; what is under way is attempted again after the next start. */
  async stop(): Promise<void> {
    this.#ending.abort(new Error("the service ends"));
    if (this.#timer !== null) clearTimeout(this.#timer);
    await Promise.race([this.#tick, sleep(END_MS, undefined, { ref: false })]);
    if (this.#timer !== null) clearTimeout(this.#timer);
  }

  /** Adds a delivery; throws a problem for a request that cannot be read, and a place that is not allowed. */
  async create(
    listing: string,
    sent: ReadBody<Calls["POST /v1/listings/{name}/deliveries"]>,
    parameters: Readonly<Record<string, readonly string[]>>,
    caller: Caller,
  ): Promise<DeliveryDescription & { readonly secret: string | null }> {
    const { outbox, webhooks, sealer, now } = this.parts;
    const { name, format, when, at, to } = sent;
    if ("url" in to) webhooks.check(to.url);
    else {
      await outbox.check();
      if (!to.file.endsWith(`.${format}`)) {
        throw new Problem("invalid-value", `The name of the file ends with .${format}`);
      }
    }
    if (at !== undefined && !["day", "week", "month"].includes(when)) {
      throw new Problem(
        "invalid-value",
        "A time of day is of deliveries once a day, week or month",
      );
    }
    if ((await this.#deliveries.countBy({ listing })) >= MAX_DELIVERIES) {
      const detail = `${listing} has ${MAX_DELIVERIES} deliveries, the most there can be: delete one`;
      throw new Problem("too-large", detail);
    }
    const secret = "url" in to ? randomBytes(32).toString("base64url") : null;
    const delivery = this.#deliveries.create({
      ...{ listing, name, format, parameters, at: at ?? null, target: to, time: when },
      secret: secret === null ? null : sealer.seal(secret),
      caller: caller.id,
      createdAt: now(),
      nextAt: null,
      seen: null,
    });
    const prepared = await this.#prepared(delivery, caller);
    if (when === "window" && prepared.untilChangeMs === Infinity) {
      throw new Problem("invalid-value", "What is requested does not change with the time");
    }
    if (when === "window" && prepared.untilChangeMs === 0) {
      const detail = "The window moves all the time: end it with today, or deliver at times";
      throw new Problem("invalid-value", detail);
    }
    if (when === "records" && prepared.listing.ofSource.revision === null) {
      const detail = "When records change is known of imported sources only: deliver at times";
      throw new Problem("invalid-value", detail);
    }
    // Of what changes the receiver has the present state first.
    delivery.nextAt = when === "window" ? now() : this.#nextAt(delivery, prepared);
    const saved = await this.#deliveries.save(delivery);
    this.#idle = 0;
    return { ...describeDelivery(saved, null), secret };
  }

  /** The deliveries of a listing, and what became of the last of each. */
  async list(listing: string): Promise<readonly DeliveryDescription[]> {
    const all = await this.#deliveries.findBy({ listing });
    return Promise.all(
      all
        .sort((a, b) => a.id - b.id)
        .map(async (delivery) => {
          const last = await this.#runs.findOne({
            where: { deliveryId: delivery.id },
            order: { id: "DESC" },
          });
          return describeDelivery(delivery, last);
        }),
    );
  }

  async remove(listing: string, id: number): Promise<void> {
    await this.#need(listing, id);
    await this.#deliveries.delete({ id });
  }

  /** What became of each, the latest first. */
  async runs(listing: string, id: number): Promise<readonly DeliveryRun[]> {
    await this.#need(listing, id);
    const runs = await this.#runs.find({
      where: { deliveryId: id },
      order: { id: "DESC" },
      take: MAX_RUNS,
    });
    return runs.map(describeRun);
  }

  /** Delivers now, and returns what became of it. */
  async runNow(listing: string, id: number): Promise<DeliveryRun> {
    const delivery = await this.#need(listing, id);
    const leased = { state: "running", nextAt: this.parts.now() + LEASE_MS } as const;
    const fresh = { ...this.#newRun(delivery), ...leased };
    const run = await this.#runs.save(this.#runs.create(fresh));
    return this.#attempt(delivery, run);
  }

  /** Tries one that failed again, and returns what became of it. */
  async retry(listing: string, id: number, runId: number): Promise<DeliveryRun> {
    const delivery = await this.#need(listing, id);
    const run = await this.#runs.findOneBy({ id: runId, deliveryId: id });
    if (run === null) throw new Problem("not-found", `Delivery ${id} has no run ${runId}`);
    if (run.state === "done") throw new Problem("already-there", `Run ${runId} was delivered`);
    const underWay = this.#underWay.get(runId);
    if (underWay !== undefined) return underWay;
    const isElsewhere = run.state === "running" && (run.nextAt ?? 0) > this.parts.now();
    if (isElsewhere || !(await this.#claim(run))) {
      throw new Problem("already-there", `Run ${runId} is being delivered now`);
    }
    return this.#attempt(delivery, run);
  }

  /** What the deliveries of a listing send. */
  async uses(listing: string): Promise<readonly ListingUse[]> {
    const all = await this.#deliveries.findBy({ listing });
    return all.map(({ name, parameters }) => ({
      what: `the delivery “${name}”`,
      parameters: new Map(Object.entries(parameters)),
    }));
  }

  /** Seals the secrets anew that were sealed under another secret of the service. */
  async reseal(before: Sealer): Promise<void> {
    for (const { id, secret } of await this.#deliveries.find()) {
      const opened = secret === null ? null : before.open(secret);
      if (opened === null) continue;
      await this.#deliveries.update({ id }, { secret: this.parts.sealer.seal(opened) });
    }
  }

  /** Gives the deliveries of a key to the one that takes its place. */
  async moveTo(before: string, after: string): Promise<void> {
    await this.#deliveries.update({ caller: before }, { caller: after });
  }

  async renameListing(manager: EntityManager, from: string, to: string): Promise<void> {
    await manager.update(Delivery, { listing: from }, { listing: to });
  }

  /** Ends the deliveries of a listing that is deleted. */
  async forget(manager: EntityManager, listing: string): Promise<void> {
    await manager.delete(Delivery, { listing });
  }

  async #need(listing: string, id: number): Promise<Delivery> {
    const found = await this.#deliveries.findOneBy({ id, listing });
    if (found !== null) return found;
    throw new Problem("not-found", `The listing ${listing} has no delivery ${id}`);
  }

  async #look(): Promise<void> {
    if (this.#idle-- > 0) return;
    try {
      const all = await this.#deliveries.find();
      this.#idle = all.length === 0 ? IDLE_LOOKS : 0;
      for (const delivery of all) await this.#begin(delivery);
      const due = await this.#runs.find({
        where: { state: In(["waiting", "running"]), nextAt: LessThanOrEqual(this.parts.now()) },
        order: { nextAt: "ASC" },
        take: MAX_ATTEMPTS,
      });
      for (const run of due) {
        if (this.#ending.signal.aborted) return;
        if (this.#underWay.has(run.id)) continue;
        const delivery = await this.#deliveries.findOneBy({ id: run.deliveryId });
        if (delivery !== null && (await this.#claim(run))) await this.#attempt(delivery, run);
      }
      this.#isFailing = false;
    } catch (error) {
      if (this.#isFailing || this.#ending.signal.aborted) return;
      this.#isFailing = true;
      this.parts.logger.error({ error: errorForLog(error) }, "nothing can be delivered now");
    }
  }

  /** Writes down that a delivery is due, if it is and nobody else has. */
  async #begin(delivery: Delivery): Promise<void> {
    const { dataSource, now } = this.parts;
    const { id, time, nextAt, seen } = delivery;
    const revision = this.#revisionOf(delivery);
    const isDue = time === "records" ? seen !== revision : nextAt !== null && nextAt <= now();
    if (!isDue) return;
    const caller = this.parts.callerOf(delivery.caller);
    const prepared =
      caller === null ? null : await this.#prepared(delivery, caller).catch(() => null);
    await dataSource.transaction(async (manager) => {
      const { affected } = await manager
        .createQueryBuilder()
        .update(Delivery)
        .set({ seen: revision, nextAt: this.#nextAt(delivery, prepared) })
        .where("id = :id AND nextAt <=> :nextAt AND seen <=> :seen", { id, nextAt, seen })
        .execute();
      if (affected !== 1) return;
      // What cannot be read now is looked at every minute; the run that waits says so, and delivers it later.
      const waiting = { deliveryId: id, state: "waiting" } as const;
      if (prepared === null && (await manager.existsBy(DeliveryRunEntity, waiting))) return;
      await manager.insert(DeliveryRunEntity, this.#newRun(delivery));
    });
  }

  #newRun({ id }: Delivery) {
    const at = this.parts.now();
    const fresh = { attempts: 0, nextAt: at, records: null, error: null };
    return { deliveryId: id, event: randomUUID(), at, state: "waiting" as const, ...fresh };
  }

  #revisionOf({ listing, time }: Delivery): string | null {
    if (time !== "records") return null;
    const source = this.parts.listings.sourceOf(listing);
    const revision = source === null ? null : this.parts.sources.get(source)?.revision;
    return revision == null ? null : String(revision);
  }

  #nextAt({ time, at }: Delivery, prepared: PreparedRequest | null): number | null {
    const now = this.parts.now();
    if (time === "records") return null;
    if (prepared === null) return now + LOOK_AGAIN_MS;
    if (time === "window") {
      const { untilChangeMs } = prepared;
      return untilChangeMs === Infinity ? null : now + Math.max(LOOK_AGAIN_MS, untilChangeMs);
    }
    const { zone, calendar } = prepared.listing;
    return nextTime(time, at, { asOf: epochMs(now), zone, calendar });
  }

  #prepared({ listing, parameters }: Delivery, caller: Caller): Promise<PreparedRequest> {
    const { listings, records } = this.parts;
    const asReader = { ...caller, role: "reader" } as const;
    const sent = new Map(Object.entries(parameters));
    return records
      .withAbort(this.#ending.signal)
      .prepare(listings.need(listing, caller), sent, asReader);
  }

  /** Takes a run for this process: another may look at the same time. */
  async #claim(run: DeliveryRunEntity): Promise<boolean> {
    const { id, state, nextAt } = run;
    const { affected } = await this.#runs.update(
      { id, state, ...(nextAt === null ? {} : { nextAt }) },
      { state: "running", nextAt: this.parts.now() + LEASE_MS },
    );
    return affected === 1;
  }

  #attempt(delivery: Delivery, run: DeliveryRunEntity): Promise<DeliveryRun> {
    const { id } = run;
    const extended = setInterval(() => {
      const nextAt = this.parts.now() + LEASE_MS;
      // Where the database is out the attempt may be made twice, and arrives all the same.
      this.#runs.update({ id, state: "running" }, { nextAt }).catch(() => undefined);
    }, LEASE_MS / 3).unref();
    const attempted = this.#attemptOnce(delivery, run).finally(() => {
      clearInterval(extended);
      this.#underWay.delete(id);
    });
    this.#underWay.set(id, attempted);
    return attempted;
  }

  async #attemptOnce(delivery: Delivery, run: DeliveryRunEntity): Promise<DeliveryRun> {
    const attempts = run.attempts + 1;
    try {
      const records = await this.#deliver(delivery, run.event);
      Object.assign(run, { state: "done", attempts, records, nextAt: null, error: null });
    } catch (error) {
      if (this.#ending.signal.aborted) throw error;
      const waitMs = retryAfterMs(attempts);
      Object.assign(run, {
        state: waitMs === null ? "failed" : "waiting",
        attempts,
        nextAt: waitMs === null ? null : this.parts.now() + waitMs,
        error: reasonOf(error).slice(0, 500),
      });
      const { id, listing } = delivery;
      this.parts.logger.warn({ listing, delivery: id, error: run.error }, "a delivery failed");
    }
    await this.#runs.save(run);
    if (run.state !== "waiting") await this.#prune(delivery);
    return describeRun(run);
  }

  /** Delivers once; the number of the records. */
  async #deliver(delivery: Delivery, event: string): Promise<number> {
    const { callerOf, now, records, outbox, webhooks, sealer } = this.parts;
    const { id, listing, format, target } = delivery;
    const caller = callerOf(delivery.caller);
    if (caller === null)
      throw new Problem("not-allowed", "Whoever made the delivery has no access any more");
    const admission = this.#admission;
    if (admission === null) throw new Error("deliveries have not begun");
    const call = {
      kind: "export",
      caller: `delivery ${id}`,
      listing,
      costKey: "delivery",
    } as const;
    return admission.run(call, this.#ending.signal, async () => {
      const prepared = await this.#prepared(delivery, caller);
      let count = 0;
      const onCount = (found: number) => {
        count = found;
      };
      if ("file" in target) {
        const wall = isoWall(wallAt(prepared.listing.zone, epochMs(now())));
        await outbox.write(fileName(target.file, wall), event, (into) =>
          writeExport(into, format, prepared, records, { onCount }),
        );
        return count;
      }
      const body = await collected((into) =>
        writeExport(into, format, prepared, records, { onCount }),
      );
      const secret = sealer.open(delivery.secret ?? "");
      if (secret === null) throw new Error("the secret for signatures cannot be opened any more");
      await webhooks.send({
        ...{ url: target.url, secret, delivery: id, event, body, type: MEDIA_TYPES[format] },
        created: Math.floor(now() / 1_000),
      });
      return count;
    });
  }

  /** Forgets the runs of long ago. */
  async #prune({ id }: Delivery): Promise<void> {
    const [oldest] = await this.#runs.find({
      where: { deliveryId: id },
      order: { id: "DESC" },
      skip: MAX_RUNS,
      take: 1,
    });
    if (oldest === undefined) return;
    await this.#runs.delete({ deliveryId: id, id: LessThanOrEqual(oldest.id) });
  }
}

/** What is written, whole; throws an error where it is too large to be sent. */
async function collected(write: (into: PassThrough) => Promise<void>): Promise<Buffer> {
  const into = new PassThrough();
  const pieces: Buffer[] = [];
  let bytes = 0;
  into.on("data", (piece: Buffer) => {
    bytes += piece.length;
    if (bytes <= MAX_BODY) pieces.push(piece);
    else into.destroy(new Error("the records are more than 10 MB: narrow them, or deliver a file"));
  });
  const ended = new Promise<void>((resolve, reject) => {
    into.once("end", resolve);
    into.once("error", reject);
  });
  await Promise.all([write(into), ended]);
  return Buffer.concat(pieces);
}

function reasonOf(error: unknown): string {
  if (error instanceof Problem) return error.detail;
  return error instanceof Error ? error.message : "something went wrong in the service";
}

function describeDelivery(delivery: Delivery, last: DeliveryRunEntity | null): DeliveryDescription {
  const { id, name, listing, format, parameters, time, at, target, createdAt, nextAt } = delivery;
  return {
    ...{ id, name, listing, format, when: time, at, to: target },
    parameters: Object.fromEntries(
      Object.entries(parameters).map(([each, values]) => [each, [...values]]),
    ),
    createdAt: new Date(createdAt).toISOString(),
    nextAt: nextAt === null ? null : new Date(nextAt).toISOString(),
    last: last === null ? null : describeRun(last),
  };
}

function describeRun(run: DeliveryRunEntity): DeliveryRun {
  const { id, event, at, state, attempts, nextAt, records, error } = run;
  return {
    ...{ id, event, attempts, records, error },
    state: state === "running" ? "waiting" : state,
    at: new Date(at).toISOString(),
    nextAt: nextAt === null ? null : new Date(nextAt).toISOString(),
  };
}
