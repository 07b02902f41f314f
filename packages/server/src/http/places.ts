import { lookup } from "node:dns/promises";
import type { RequestOptions } from "node:http";
import { BlockList, isIP } from "node:net";
import type { HostAndPort } from "../settings/index.js";
import { Problem } from "./problem.js";

/** Addresses of machines and networks of one's own, to which no name may lead. */
const PRIVATE = new BlockList();
for (const [address, prefix] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.168.0.0", 16],
  ["224.0.0.0", 3],
] as const) {
  PRIVATE.addSubnet(address, prefix, "ipv4");
}
for (const [address, prefix] of [
  ["::", 127],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
  ["::ffff:0:0", 96],
] as const) {
  PRIVATE.addSubnet(address, prefix, "ipv6");
}

/** The places outside to which the operator lets the service connect, and how it does so. */
export class Places {
  constructor(
    private readonly allowed: readonly HostAndPort[],
    /** The setting that lists them, and what is not done elsewhere: “Nothing is delivered to”. */
    private readonly words: { readonly setting: string; readonly nothing: string },
  ) {}

  /** The URL of a text; throws a problem for a place that is not allowed, and for a URL with a password. */
  check(text: string): URL {
    const url = new URL(text);
    const { host, port } = placeOf(url);
    const isAllowed = this.allowed.some((each) => each.host === host && each.port === port);
    if (!isAllowed || url.username !== "" || url.password !== "") {
      const places = this.allowed.map((each) => `${each.host}:${each.port}`).join(", ");
      const detail = `${this.words.nothing} ${host}:${port}: the operator allows ${places || "no place"} (${this.words.setting})`;
      throw new Problem("not-allowed", detail);
    }
    return url;
  }

  /**
   * The options with which a request is made to the very address that was checked, whatever the name leads to the
   * next time. Throws where a name leads to a private address: one that the operator wrote as an address is taken.
   */
  async pinned(url: URL): Promise<Pick<RequestOptions, "agent" | "lookup">> {
    const { address, family } = await this.#addressOf(placeOf(url).host);
    return {
      agent: false,
      lookup: (_host, options, done) => {
        if (options.all === true) done(null, [{ address, family }]);
        else done(null, address, family);
      },
    };
  }

  async #addressOf(host: string): Promise<{ address: string; family: number }> {
    const family = isIP(host);
    if (family !== 0) return { address: host, family };
    const found = await lookup(host, { all: true });
    for (const each of found) {
      if (PRIVATE.check(each.address, each.family === 6 ? "ipv6" : "ipv4")) {
        throw new Error(
          `${host} leads to a private address; name the address in ${this.words.setting}`,
        );
      }
    }
    const [first] = found;
    if (first === undefined) throw new Error(`${host} has no address`);
    return first;
  }
}

function placeOf(url: URL): HostAndPort {
  const port = url.port === "" ? (url.protocol === "https:" ? 443 : 80) : Number(url.port);
  return { host: url.hostname.replace(/^\[|\]$/g, ""), port };
}
