import { request as requestHttp, type IncomingMessage } from "node:http";
import { request as requestHttps } from "node:https";
import { isIP } from "node:net";
import { Problem, type Places } from "../http/index.js";
import { LARGEST_FILE } from "./files/index.js";

/** Milliseconds until an answer begins, between two pieces of it, and from its beginning to its end, at most. */
export interface FetchLimits {
  readonly answer: number;
  readonly stalled: number;
  readonly whole: number;
}

const LIMITS: FetchLimits = { answer: 30_000, stalled: 60_000, whole: 3_600_000 };
/** Redirections that are followed at most; each is checked like the first address. */
const MAX_REDIRECTIONS = 5;
const REDIRECTIONS: ReadonlySet<number> = new Set([301, 302, 303, 307, 308]);

/** What a server said of a file, by which it can say the next time that it is the same (RFC 9110, section 13). */
export interface Validators {
  readonly etag?: string;
  readonly modified?: string;
}

/** A file as it arrives from an address. */
export interface FetchedFile {
  readonly body: IncomingMessage;
  /** 0 where the server does not say. */
  readonly bytes: number;
  /** The last part of its path, for people. */
  readonly name: string;
  readonly validators: Validators;
}

/** Fetches files from the places that the operator allows. */
export class Fetcher {
  constructor(
    private readonly places: Places,
    private readonly limits = LIMITS,
  ) {}

  /** Throws a problem for an address from which nothing is fetched. */
  check(text: string): URL {
    const url = this.places.check(text);
    const isOwnNetwork = isIP(url.hostname.replace(/^\[|\]$/g, "")) !== 0;
    if (url.protocol === "https:" || (url.protocol === "http:" && isOwnNetwork)) return url;
    throw new Problem(
      "not-allowed",
      `Files are fetched by https; by http only from an address in digits, which ${url.host} is not`,
    );
  }

  /**
   * Fetches a file, or null where the server says that it is the one that is known already. Throws an error that
   * says why there is none.
   */
  async fetch(text: string, known: Validators, signal: AbortSignal): Promise<FetchedFile | null> {
    let url = this.check(text);
    for (let redirections = 0; redirections <= MAX_REDIRECTIONS; redirections++) {
      const answer = await this.#get(url, known, signal);
      const { statusCode: status = 0, headers } = answer;
      if (status === 200) return this.#fileOf(answer, url);
      // What else it has to say is of no use.
      answer.destroy();
      if (status === 304) return null;
      if (!REDIRECTIONS.has(status) || headers.location === undefined) {
        throw new Error(`${url.host} answered with ${status}`);
      }
      const next = new URL(headers.location, url);
      if (url.protocol === "https:" && next.protocol !== "https:") {
        throw new Error(`${url.host} leads from https to ${next.protocol.replace(":", "")}`);
      }
      url = this.check(next.href);
    }
    throw new Error(`${url.host} leads on more than ${MAX_REDIRECTIONS} times`);
  }

  async #get(url: URL, known: Validators, signal: AbortSignal): Promise<IncomingMessage> {
    const pinned = await this.places.pinned(url);
    const send = url.protocol === "https:" ? requestHttps : requestHttp;
    const headers = {
      Accept: "*/*",
      // What is packed is unpacked like any packed file.
      "Accept-Encoding": "gzip, identity",
      ...(known.etag === undefined ? {} : { "If-None-Match": known.etag }),
      ...(known.modified === undefined ? {} : { "If-Modified-Since": known.modified }),
    };
    return new Promise((resolve, reject) => {
      const sent = send(url, { ...pinned, headers, signal }, (answer) => {
        clearTimeout(slow);
        answer.setTimeout(this.limits.stalled, () => {
          answer.destroy(
            new Error(`${url.host} sent nothing for ${this.limits.stalled / 1_000} seconds`),
          );
        });
        resolve(answer);
      });
      const slow = setTimeout(() => {
        sent.destroy(
          new Error(`${url.host} did not answer in ${this.limits.answer / 1_000} seconds`),
        );
      }, this.limits.answer);
      sent.once("error", (error) => {
        clearTimeout(slow);
        reject(error);
      });
      sent.end();
    });
  }

  #fileOf(body: IncomingMessage, url: URL): FetchedFile {
    const bytes = Number(body.headers["content-length"] ?? 0);
    if (bytes > LARGEST_FILE) {
      body.destroy();
      throw new Error(`the file has ${bytes} bytes; at most ${LARGEST_FILE} are taken`);
    }
    const { whole } = this.limits;
    const late = setTimeout(() => {
      body.destroy(new Error(`the file did not arrive whole in ${whole / 1_000} seconds`));
    }, whole);
    body.once("close", () => clearTimeout(late));
    const { etag, "last-modified": modified } = body.headers;
    const name = url.pathname.split("/").at(-1) ?? "";
    return {
      body,
      bytes,
      name: name === "" ? url.host : name,
      validators: {
        ...(etag === undefined ? {} : { etag }),
        ...(modified === undefined ? {} : { modified }),
      },
    };
  }
}
