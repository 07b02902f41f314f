/** The database cannot be reached or has gone away. */
export class DatabaseUnavailable extends Error {}
