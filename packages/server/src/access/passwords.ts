import { randomBytes, scrypt, timingSafeEqual } from "node:crypto";

/** The cost of a hash (RFC 7914): 32 MB of memory, about a tenth of a second. */
const COST = { N: 2 ** 15, r: 8, p: 1 } as const;
const SALT_BYTES = 16;
const HASH_BYTES = 32;
/** Twice what the hash takes, 128 × N × r bytes. */
const MEMORY = 2 * 128 * COST.N * COST.r;

/** Characters of a password at least, and at most. */
export const PASSWORD_LENGTH = { min: 10, max: 200 } as const;

/** A fresh password of 100 random bits, to be changed by whoever it is for. */
export function makePassword(): string {
  return randomBytes(15).toString("base64url");
}

/** The salted hash of a password (scrypt), with its costs. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const hash = await derived(password, salt, COST);
  const { N, r, p } = COST;
  return ["scrypt", N, r, p, salt.toString("base64url"), hash.toString("base64url")].join(":");
}

/**
 * Whether a password is the one of a hash. Without a hash it takes as long, so that nobody can find out which names
 * there are.
 */
export async function isPassword(password: string, stored: string | null): Promise<boolean> {
  const [, N = COST.N, r = COST.r, p = COST.p, salt = "", hash = ""] = stored?.split(":") ?? [];
  const cost = { N: Number(N), r: Number(r), p: Number(p) };
  const found = await derived(password, Buffer.from(salt, "base64url"), cost);
  const wanted = Buffer.from(hash, "base64url");
  return wanted.length === found.length && timingSafeEqual(found, wanted);
}

function derived(
  password: string,
  salt: Buffer,
  cost: { readonly N: number; readonly r: number; readonly p: number },
): Promise<Buffer> {
  // However it was typed, the same characters are the same password.
  const text = password.normalize("NFC");
  return new Promise((resolve, reject) => {
    scrypt(text, salt, HASH_BYTES, { ...cost, maxmem: MEMORY }, (error, hash) => {
      if (error === null) resolve(hash);
      else reject(error);
    });
  });
}
