import { createHash, createHmac } from "node:crypto";
import { request as requestHttp, type RequestOptions } from "node:http";
import { request as requestHttps } from "node:https";
import { Places } from "../http/index.js";
import type { HostAndPort } from "../settings/index.js";

/** Milliseconds that a receiver may take. */
const LIMIT_MS = 15_000;

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
  readonly #places: Places;

  constructor(allowed: readonly HostAndPort[]) {
    this.#places = new Places(allowed, {
      setting: "ORISMA_WEBHOOKS",
      nothing: "Nothing is delivered to",
    });
  }

  /** Throws a problem for a place that is not allowed. */
  check(text: string): URL {
    return this.#places.check(text);
  }

  /** Sends once; throws an error that says why it did not arrive. */
  async send(sending: Sending): Promise<void> {
    const url = this.check(sending.url);
    const status = await post(url, await this.#places.pinned(url), sending);
    if (status >= 200 && status < 300) return;
    throw new Error(`the receiver answered with ${status}`);
  }
}

/** Posts to the very address that was checked; the status of the answer. Redirections are not followed. */
function post(url: URL, pinned: RequestOptions, sending: Sending): Promise<number> {
  const send = url.protocol === "https:" ? requestHttps : requestHttp;
  const { body, type } = sending;
  return new Promise((resolve, reject) => {
    const sent = send(
      url,
      {
        ...pinned,
        method: "POST",
        signal: AbortSignal.timeout(LIMIT_MS),
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
