/** What a key allows, from most to least. */
export const ROLES = ["owner", "author", "reader"] as const;
export type Role = (typeof ROLES)[number];
