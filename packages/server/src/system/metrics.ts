import type { Server } from "node:http";
import { monitorEventLoopDelay, type IntervalHistogram } from "node:perf_hooks";
import { Router, type RequestHandler } from "express";
import { Counter, Gauge, Histogram, Registry } from "prom-client";
import type { DataSource } from "typeorm";
import type { Admission } from "../admission/index.js";
import { SENT, route } from "../http/index.js";
import type { DiskSpace } from "../database/index.js";
import type { Imports } from "../imports/index.js";

/** What is measured. */
export interface MeasuredParts {
  readonly dataSource: DataSource;
  readonly admission: Admission;
  readonly imports: Imports;
  readonly disk: DiskSpace;
}

const NS_PER_S = 1e9;
/** Seconds up to which requests are counted together. */
const BUCKETS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30];
/** The quantiles in which the delay of the event loop is given. */
const QUANTILES = [0.5, 0.9, 0.99] as const;

/** The part of the driver's pool that is looked at. */
interface DriverPool {
  readonly _allConnections?: { readonly length: number };
  readonly _freeConnections?: { readonly length: number };
}

/**
 * The figures of a service in the text format of Prometheus. Their names and labels stay; a route is
 * named as it is declared, so that there are no more of them than there are calls.
 */
export class Metrics {
  readonly #registry = new Registry();
  readonly #delay: IntervalHistogram;
  readonly #requests: Counter<"method" | "route" | "status">;
  readonly #seconds: Histogram<"method" | "route">;

  constructor(parts: MeasuredParts) {
    const registers = [this.#registry];
    this.#requests = new Counter({
      name: "orisma_http_requests_total",
      help: "Requests that were answered",
      labelNames: ["method", "route", "status"],
      registers,
    });
    this.#seconds = new Histogram({
      name: "orisma_http_request_seconds",
      help: "Seconds from a request to the end of its answer",
      labelNames: ["method", "route"],
      buckets: BUCKETS,
      registers,
    });
    this.#delay = monitorEventLoopDelay({ resolution: 10 });
    this.#delay.enable();
    this.#addCalls(parts);
    this.#addProcess(parts);
  }

  /** Counts and times requests. */
  readonly watch: RequestHandler = (request, response, next) => {
    const started = performance.now();
    response.once("close", () => {
      const { method } = request;
      const { path = "other" } = (request.route ?? {}) as { readonly path?: string };
      this.#requests.inc({ method, route: path, status: String(response.statusCode) });
      this.#seconds.observe({ method, route: path }, (performance.now() - started) / 1_000);
    });
    next();
  };

  /** Counts the connections of a server, those too that were closed beyond its limit. */
  watchConnections(server: Server): void {
    const registers = [this.#registry];
    new Gauge({
      name: "orisma_http_connections",
      help: "Connections that are open",
      registers,
      async collect() {
        this.set(
          await new Promise<number>((resolve) =>
            server.getConnections((_error, count) => resolve(count)),
          ),
        );
      },
    });
    const dropped = new Counter({
      name: "orisma_http_connections_dropped_total",
      help: "Connections that were closed at once, being more than the limit",
      registers,
    });
    server.on("drop", () => dropped.inc());
  }

  /** The figures as they are now, and their media type. */
  async text(): Promise<{ readonly type: string; readonly text: string }> {
    return { type: this.#registry.contentType, text: await this.#registry.metrics() };
  }

  stop(): void {
    this.#delay.disable();
    this.#registry.clear();
  }

  #addCalls({ admission, imports, dataSource }: MeasuredParts): void {
    const registers = [this.#registry];
    for (const state of ["running", "waiting"] as const) {
      new Gauge({
        name: `orisma_calls_${state}`,
        help: `Calls on records that are ${state}, by what they cost`,
        labelNames: ["class"],
        registers,
        collect() {
          for (const each of admission.counts()) this.set({ class: each.class }, each[state]);
        },
      });
    }
    new Gauge({
      name: "orisma_imports_running",
      help: "Files that are being imported",
      registers,
      collect() {
        this.set(imports.running);
      },
    });
    new Gauge({
      name: "orisma_database_connections",
      help: "Connections to the database, by whether they are used",
      labelNames: ["state"],
      registers,
      collect() {
        const { pool } = dataSource.driver as unknown as { readonly pool?: DriverPool };
        const all = pool?._allConnections?.length ?? 0;
        const free = pool?._freeConnections?.length ?? 0;
        this.set({ state: "used" }, all - free);
        this.set({ state: "free" }, free);
      },
    });
  }

  #addProcess({ disk }: MeasuredParts): void {
    const registers = [this.#registry];
    const delay = this.#delay;
    new Gauge({
      name: "orisma_event_loop_delay_seconds",
      help: "How late the event loop was since it was last asked",
      labelNames: ["quantile"],
      registers,
      collect() {
        for (const quantile of QUANTILES) {
          this.set({ quantile }, delay.percentile(quantile * 100) / NS_PER_S);
        }
        delay.reset();
      },
    });
    new Gauge({
      name: "process_resident_memory_bytes",
      help: "Memory of the process",
      registers,
      collect() {
        this.set(process.memoryUsage.rss());
      },
    });
    new Gauge({
      name: "process_cpu_seconds_total",
      help: "Seconds of processor time",
      registers,
      collect() {
        const { user, system } = process.cpuUsage();
        this.set((user + system) / 1e6);
      },
    });
    new Gauge({
      name: "orisma_disk_free_bytes",
      help: "Bytes that can still be written on the disk of the service that has least",
      registers,
      async collect() {
        this.set(await disk.free());
      },
    });
  }
}

/** The figures, for owners. */
export function metricsRoutes(metrics: Metrics): Router {
  const router = Router();
  route(router, "GET /metrics", async ({ response }) => {
    const { type, text } = await metrics.text();
    response.set("Content-Type", type).set("Cache-Control", "no-store").send(text);
    return SENT;
  });
  return router;
}
