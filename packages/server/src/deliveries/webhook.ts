import { createHash, createHmac } from "node:crypto";
import { lookup } from "node:dns/promises";
import { request as requestHttp } from "node:http";
import { request as requestHttps } from "node:https";
import { BlockList, isIP } from "node:net";
import { Problem } from "../http/index.js";
import type { HostAndPort } from "../settings/index.js";

/** Milliseconds that a receiver may take. */
const LIMIT_MS = 15_000;

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

/** What is sent to a receiver. */
export interface Sending {
  readonly url: string;
  readonly secret: string;
  /** The number of the delivery, by which the receiver knows the secret. */
  readonly delivery: number;
  readonly event: string;
  readonly type: string;
  readonly body: Buffer;
  /** Seconds since 1970-01-01T00:00:00Z. */
  readonly created: number;
}

/** Sends to the places that the operator allows. */
export class Webhooks {
  constructor(private readonly allowed: readonly HostAndPort[]) {}

  /** Throws a problem for a place that is not allowed. */
  check(text: string): URL {
    const url = new URL(text);
    const { host, port } = placeOf(url);
    const isAllowed = this.allowed.some((each) => each.host === host && each.port === port);
    if (!isAllowed || url.username !== "" || url.password !== "") {
      const places = this.allowed.map((each) => `${each.host}:${each.port}`).join(", ");
      const detail = `Nothing is delivered to ${host}:${port}: the operator allows ${places || "no place"} (ORISMA_WEBHOOKS)`;
      throw new Problem("not-allowed", detail);
    }
    return url;
  }

  /** Sends once; throws an error that says why it did not arrive. */
  async send(sending: Sending): Promise<void> {
    const url = this.check(sending.url);
    const { host } = placeOf(url);
    const address = await addressOf(host);
    const status = await post(url, address, sending);
    if (status >= 200 && status < 300) return;
    throw new Error(`the receiver answered with ${status}`);
  }
}

function placeOf(url: URL): HostAndPort {
  const port = url.port === "" ? (url.protocol === "https:" ? 443 : 80) : Number(url.port);
  return { host: url.hostname.replace(/^\[|\]$/g, ""), port };
}

/**
 * The address of a host: one that the operator wrote as an address is taken as it is; a name must lead to none of
 * one's own machines, whatever it leads to the next time.
 */
async function addressOf(host: string): Promise<{ address: string; family: number }> {
  const family = isIP(host);
  if (family !== 0) return { address: host, family };
  const found = await lookup(host, { all: true });
  for (const each of found) {
    if (PRIVATE.check(each.address, each.family === 6 ? "ipv6" : "ipv4")) {
      throw new Error(`${host} leads to a private address; name the address in ORISMA_WEBHOOKS`);
    }
  }
  const [first] = found;
  if (first === undefined) throw new Error(`${host} has no address`);
  return first;
}

/** Posts to the very address that was checked; the status of the answer. Redirections are not followed. */
function post(
  url: URL,
  { address, family }: { readonly address: string; readonly family: number },
  sending: Sending,
): Promise<number> {
  const send = url.protocol === "https:" ? requestHttps : requestHttp;
  const { body, type } = sending;
  return new Promise((resolve, reject) => {
    const sent = send(
      url,
      {
        method: "POST",
        agent: false,
        signal: AbortSignal.timeout(LIMIT_MS),
        lookup: (_host, options, done) => {
          if (options.all === true) done(null, [{ address, family }]);
          else done(null, address, family);
        },
        headers: {
          "Content-Type": type,
          "Content-Length": body.length,
          ...signature(sending),
        },
      },
      (answer) => {
        answer.destroy();
        resolve(answer.statusCode ?? 0);
      },
    );
    sent.once("error", reject);
    sent.end(body);
  });
}

/** The digest of a body (RFC 9530), and the signature of a request with a shared secret (RFC 9421). */
export function signature({ url, secret, delivery, event, body, created }: Sending) {
  const digest = `sha-256=:${createHash("sha256").update(body).digest("base64")}:`;
  const covered = '("@method" "@target-uri" "content-digest" "orisma-event")';
  const parameters = `${covered};created=${created};keyid="delivery-${delivery}";alg="hmac-sha256"`;
  const base = [
    '"@method": POST',
    `"@target-uri": ${new URL(url).href}`,
    `"content-digest": ${digest}`,
    `"orisma-event": ${event}`,
    `"@signature-params": ${parameters}`,
  ].join("\n");
  const signed = createHmac("sha256", secret).update(base).digest("base64");
  return {
    "Content-Digest": digest,
    "Orisma-Event": event,
    "Signature-Input": `sig=${parameters}`,
    Signature: `sig=:${signed}:`,
  };
}
