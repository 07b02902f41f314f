/** What a key allows, from most to least. */
export const ROLES = ["owner", "maker", "reader"] as const;
export type Role = (typeof ROLES)[number];

/** Who makes a request. */
export interface Caller {
  /** The id of the key, or `session` for a person in the console. */
  readonly id: string;
  /** The name of the key. */
  readonly name: string;
  readonly role: Role;
  /** The listings that a reader may read; null for all. */
  readonly listings: readonly string[] | null;
}
