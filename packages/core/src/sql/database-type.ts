/** What the database says that a column holds. */
export type DatabaseType =
  | { readonly type: "text" | "integer" | "decimal" | "float" | "boolean" }
  /** Something else, of which only the text is known in which the database shows it. */
  | { readonly type: "other" }
  | { readonly type: "date" }
  /** A date and time; `zoned` where it is a point in time, shown in the connection's zone. */
  | {
      readonly type: "timestamp";
      /** Digits of a second, 0 to 6. */
      readonly digits: number;
      readonly zoned: boolean;
    };
