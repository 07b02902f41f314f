import type { Configuration } from "openid-client";
import { CALLER_NAME } from "@orisma/contract";
import type { IssuerSettings } from "../settings/index.js";

/** Seconds that the issuer may take for an answer. */
const ANSWER_LIMIT_S = 10;
/** Claims of a person, values of one, and characters of each, that are kept at most. */
const MOST = { claims: 50, values: 100, characters: 200 } as const;
/** Claims of the protocol itself, and those that are kept by themselves (OpenID Connect Core, section 2). */
const OWN_CLAIMS: ReadonlySet<string> = new Set(
  "iss sub aud exp iat nbf jti nonce auth_time acr amr azp at_hash c_hash s_hash sid groups name preferred_username".split(
    " ",
  ),
);

/** The library of the protocol, which only a service that has an issuer loads. */
const library = () => import("openid-client");

/** What a browser that is on its way to the issuer brings back. */
export interface Leaving {
  readonly state: string;
  readonly nonce: string;
  readonly verifier: string;
}

/** Who somebody is, as the issuer says. */
export interface Identity {
  /** The issuer and its id of the person: the same at each sign-in. */
  readonly subject: string;
  readonly name: string;
  readonly groups: readonly string[];
  readonly claims: Readonly<Record<string, readonly string[]>>;
}

/**
 * An issuer that signs people in, by the authorization code flow with PKCE (OpenID Connect Core, section 3.1;
 * RFC 7636). Signatures are checked against its keys, and the token is bound to the browser that left.
 */
export class Issuer {
  #found: Promise<Configuration> | null = null;

  constructor(private readonly settings: IssuerSettings) {}

  /** The host of the issuer, by which people know it. */
  get label(): string {
    return new URL(this.settings.url).host;
  }

  /** Where a browser is sent, and what it holds meanwhile; fails where the issuer cannot be reached. */
  async begin(returnUrl: string): Promise<{ readonly url: string; readonly leaving: Leaving }> {
    const openid = await library();
    const leaving = {
      state: openid.randomState(),
      nonce: openid.randomNonce(),
      verifier: openid.randomPKCECodeVerifier(),
    };
    const url = openid.buildAuthorizationUrl(await this.#configuration(), {
      redirect_uri: returnUrl,
      scope: "openid profile email",
      state: leaving.state,
      nonce: leaving.nonce,
      code_challenge: await openid.calculatePKCECodeChallenge(leaving.verifier),
      code_challenge_method: "S256",
    });
    return { url: url.href, leaving };
  }

  /** Who came back to an address; fails for what the issuer did not send to this browser. */
  async finish(address: URL, { state, nonce, verifier }: Leaving): Promise<Identity> {
    const { authorizationCodeGrant } = await library();
    const tokens = await authorizationCodeGrant(await this.#configuration(), address, {
      expectedState: state,
      expectedNonce: nonce,
      pkceCodeVerifier: verifier,
      idTokenExpected: true,
    });
    const claims = tokens.claims();
    if (claims === undefined) throw new Error("the issuer sent no identity");
    return identityOf(this.settings.url, claims);
  }

  /** What the issuer says of itself, read once; again where it could not be. */
  #configuration(): Promise<Configuration> {
    this.#found ??= this.#discover().catch((error: unknown) => {
      this.#found = null;
      throw error;
    });
    return this.#found;
  }

  async #discover(): Promise<Configuration> {
    const {
      // oxlint-disable-next-line typescript/no-deprecated -- its way to say that it is not for others
      allowInsecureRequests,
      ClientSecretBasic,
      discovery,
      enableNonRepudiationChecks,
      None,
    } = await library();
    const { url, clientId, clientSecret } = this.settings;
    const isPlain = url.startsWith("http:");
    return discovery(
      new URL(url),
      clientId,
      undefined,
      clientSecret === null ? None() : ClientSecretBasic(clientSecret),
      {
        timeout: ANSWER_LIMIT_S,
        // The settings let only an issuer of this machine be asked without TLS.
        execute: [enableNonRepudiationChecks, ...(isPlain ? [allowInsecureRequests] : [])],
      },
    );
  }
}

/** The identity that the claims of a token come to. */
export function identityOf(
  issuer: string,
  all: Readonly<Record<string, unknown>> & { readonly sub: string },
): Identity {
  const { preferred_username: user, name, email, email_verified: isVerified } = all;
  // One that is no name here, such as that of a group, is passed over.
  const [found] = [user, name, isVerified === true ? email : null, all.sub].flatMap((each) => {
    const read = CALLER_NAME.safeParse(each);
    return read.success ? [read.data] : [];
  });
  if (found === undefined) throw new Error("the issuer sent no name that a person can have");
  const claims = Object.entries(all).flatMap(([claim, value]) => {
    if (OWN_CLAIMS.has(claim) || !/^[\w.-]{1,64}$/.test(claim)) return [];
    const values = valuesOf(value);
    return values.length === 0 ? [] : [[claim, values] as const];
  });
  return {
    subject: `${issuer} ${all.sub}`,
    name: found,
    groups: valuesOf(all.groups),
    claims: Object.fromEntries(claims.slice(0, MOST.claims)),
  };
}

/** The values of a claim that can be compared with cells: of strings, numbers, yes and no. */
function valuesOf(claim: unknown): readonly string[] {
  const all = Array.isArray(claim) ? (claim as unknown[]) : [claim];
  return all
    .filter((each) => ["string", "number", "boolean"].includes(typeof each))
    .map(String)
    .filter((each) => each !== "" && each.length <= MOST.characters)
    .slice(0, MOST.values);
}
