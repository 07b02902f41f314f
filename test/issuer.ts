import { createHash, generateKeyPairSync, randomUUID, sign, type KeyObject } from "node:crypto";
import { createServer, type IncomingMessage, type Server } from "node:http";
import type { AddressInfo } from "node:net";

/** What an issuer of a test says, and how it goes wrong. */
export interface IssuerAnswers {
  /** The claims of whoever signs in. */
  claims: Readonly<Record<string, unknown>>;
  /** Claims of the protocol that are other than they have to be. */
  wrong: Readonly<Record<string, unknown>>;
  /** Whether tokens are signed with a key that is not published. */
  isForged: boolean;
}

/** A small issuer of OpenID Connect on loopback, where everybody is let in at once. */
export class TestIssuer {
  readonly answers: IssuerAnswers = { claims: { sub: "1" }, wrong: {}, isForged: false };
  readonly #keys = generateKeyPairSync("rsa", { modulusLength: 2048 });
  readonly #others = generateKeyPairSync("rsa", { modulusLength: 2048 });
  readonly #codes = new Map<string, { readonly nonce: string; readonly challenge: string }>();
  readonly #server: Server = createServer((request, response) => {
    void this.#answer(request).then(({ status = 200, location, body }) => {
      response.writeHead(status, {
        "Content-Type": "application/json",
        ...(location === undefined ? {} : { Location: location }),
      });
      response.end(JSON.stringify(body ?? {}));
    });
  });

  async listen(): Promise<void> {
    await new Promise<void>((resolve) => this.#server.listen(0, "127.0.0.1", resolve));
  }

  close(): void {
    this.#server.closeAllConnections();
    this.#server.close();
  }

  get url(): string {
    return `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`;
  }

  async #answer(
    request: IncomingMessage,
  ): Promise<{ readonly status?: number; readonly location?: string; readonly body?: unknown }> {
    const { pathname, searchParams } = new URL(request.url ?? "/", this.url);
    switch (pathname) {
      case "/.well-known/openid-configuration":
        return { body: this.#description() };
      case "/keys": {
        const key = this.#keys.publicKey.export({ format: "jwk" });
        return { body: { keys: [{ ...key, kid: "one", use: "sig", alg: "RS256" }] } };
      }
      case "/authorize": {
        const code = randomUUID();
        const [nonce = "", challenge = ""] = ["nonce", "code_challenge"].map((name) =>
          searchParams.get(name),
        ) as string[];
        this.#codes.set(code, { nonce, challenge });
        const back = new URL(searchParams.get("redirect_uri") ?? "");
        back.searchParams.set("code", code);
        back.searchParams.set("state", searchParams.get("state") ?? "");
        return { status: 302, location: back.href };
      }
      case "/token":
        return this.#token(request);
      default:
        return { status: 404 };
    }
  }

  #description() {
    const { url } = this;
    return {
      issuer: url,
      authorization_endpoint: `${url}/authorize`,
      token_endpoint: `${url}/token`,
      jwks_uri: `${url}/keys`,
      response_types_supported: ["code"],
      subject_types_supported: ["public"],
      id_token_signing_alg_values_supported: ["RS256"],
      code_challenge_methods_supported: ["S256"],
    };
  }

  async #token(request: IncomingMessage) {
    let text = "";
    for await (const piece of request) text += String(piece);
    const sent = new URLSearchParams(text);
    const code = sent.get("code") ?? "";
    const held = this.#codes.get(code);
    this.#codes.delete(code);
    const verified = createHash("sha256")
      .update(sent.get("code_verifier") ?? "")
      .digest("base64url");
    const login = `Basic ${Buffer.from("orisma:a secret").toString("base64")}`;
    if (verified !== held?.challenge) {
      return { status: 400, body: { error: "invalid_grant" } };
    }
    if (!sameLogin(request.headers.authorization ?? "", login)) {
      return { status: 401, body: { error: "invalid_client" } };
    }
    const now = Math.floor(Date.now() / 1_000);
    const { claims, wrong, isForged } = this.answers;
    const own = { iss: this.url, aud: "orisma", iat: now, exp: now + 300, nonce: held.nonce };
    const key = isForged ? this.#others.privateKey : this.#keys.privateKey;
    const id_token = signed({ ...own, ...claims, ...wrong }, key);
    return { body: { access_token: randomUUID(), token_type: "Bearer", id_token } };
  }
}

/** Whether two logins are one: what is sent is encoded as a form is (RFC 6749, section 2.3.1). */
function sameLogin(sent: string, wanted: string): boolean {
  const plain = (text: string) =>
    decodeURIComponent(Buffer.from(text.slice(6), "base64").toString().replaceAll("+", " "));
  return plain(sent) === plain(wanted);
}

function signed(claims: object, key: KeyObject): string {
  const encode = (part: object) => Buffer.from(JSON.stringify(part)).toString("base64url");
  const content = `${encode({ alg: "RS256", kid: "one" })}.${encode(claims)}`;
  return `${content}.${sign("sha256", Buffer.from(content), key).toString("base64url")}`;
}
