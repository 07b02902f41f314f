import { createHash, createHmac, randomBytes, timingSafeEqual } from "node:crypto";

/** A fresh key: `orisma_` and 256 random bits in base64url, so that leaks can be searched for. */
export function makeKey(): string {
  return `orisma_${randomBytes(32).toString("base64url")}`;
}

/** A fresh value for a session's cookie, 256 random bits. */
export function makeSessionToken(): string {
  return randomBytes(32).toString("base64url");
}

/** Letters and digits that are not taken for one another, 32 of them. */
const CODE_CHARACTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";

/** A one-time code of 80 random bits, to be read and typed: `F7KQ-2MND-XR5T-9WHB`. */
export function makeCode(): string {
  const characters = [...randomBytes(16)].map((byte) => CODE_CHARACTERS[byte % 32] ?? "");
  return [0, 4, 8, 12].map((start) => characters.slice(start, start + 4).join("")).join("-");
}

/** A code as typed, without dashes, spaces and letter case. */
export function normalCode(typed: string): string {
  return typed.toUpperCase().replace(/[\s-]/g, "");
}

/** SHA-256 in hexadecimal; enough for secrets of full random length. */
export function hashOf(secret: string): string {
  return createHash("sha256").update(secret).digest("hex");
}

/** The token that a session's writes must show, which a page of another site cannot read. */
export function csrfToken(serviceSecret: Buffer, sessionToken: string): string {
  return createHmac("sha256", serviceSecret).update(`csrf ${sessionToken}`).digest("base64url");
}

/** The proof that a browser's mark was given by this service. */
export function browserProof(serviceSecret: Buffer, id: string): string {
  return createHmac("sha256", serviceSecret).update(`browser ${id}`).digest("base64url");
}

/** Compares two strings in a time that does not reveal where they differ. */
export function sameText(a: string, b: string): boolean {
  return timingSafeEqual(Buffer.from(hashOf(a)), Buffer.from(hashOf(b)));
}
