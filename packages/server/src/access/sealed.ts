import { createCipheriv, createDecipheriv, createHmac } from "node:crypto";

const IV_BYTES = 12;
const TAG_BYTES = 16;

/**
 * Encrypts and authenticates strings with AES-256-GCM, under a key that is derived from the
 * service's secret for one purpose: what is sealed for one cannot be opened for another.
 */
export class Sealer {
  readonly #encryption: Buffer;
  readonly #nonce: Buffer;

  constructor(secret: Buffer, purpose: string) {
    this.#encryption = derive(secret, `${purpose} encryption`);
    this.#nonce = derive(secret, `${purpose} nonce`);
  }

  /**
   * The sealed text in base64url. The nonce is a keyed hash of the content: the same text is the
   * same sealed, and no nonce serves two strings.
   */
  seal(plain: string): string {
    const iv = createHmac("sha256", this.#nonce).update(plain).digest().subarray(0, IV_BYTES);
    const cipher = createCipheriv("aes-256-gcm", this.#encryption, iv);
    const sealed = Buffer.concat([cipher.update(plain, "utf8"), cipher.final()]);
    return Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString("base64url");
  }

  /** The text that was sealed, or null for one that this service did not seal. */
  open(text: string): string | null {
    if (!/^[\w-]+$/.test(text)) return null;
    const bytes = Buffer.from(text, "base64url");
    // The decoder drops a stray sign at the end.
    if (bytes.toString("base64url") !== text) return null;
    if (bytes.length <= IV_BYTES + TAG_BYTES) return null;
    try {
      const iv = bytes.subarray(0, IV_BYTES);
      const decipher = createDecipheriv("aes-256-gcm", this.#encryption, iv);
      decipher.setAuthTag(bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES));
      const sealed = bytes.subarray(IV_BYTES + TAG_BYTES);
      return Buffer.concat([decipher.update(sealed), decipher.final()]).toString("utf8");
    } catch {
      return null;
    }
  }
}

function derive(secret: Buffer, purpose: string): Buffer {
  return createHmac("sha256", secret).update(purpose).digest();
}
