/** What the log says of a failure. */
export interface LoggedError {
  readonly name: string;
  /** Omitted for failures of the database, whose messages have values in them. */
  readonly message?: string;
  readonly code?: string;
  readonly errno?: number;
  readonly sqlState?: string;
  /** Where it was thrown: lines of code, and nothing that was sent. */
  readonly at: readonly string[];
  readonly cause?: LoggedError;
}

const MAX_LINES = 12;

/** A failure without the text of statements and without values, which are people's own. */
export function errorForLog(error: unknown): LoggedError {
  if (!(error instanceof Error)) return { name: typeof error, at: [] };
  const { code, errno, sqlState } = error as Error & {
    readonly code?: unknown;
    readonly errno?: unknown;
    readonly sqlState?: unknown;
  };
  const { cause } = error;
  const isDatabase = "sql" in error || "query" in error || typeof sqlState === "string";
  const isAbout = isDatabase || isOfDatabase(cause);
  const lines = (error.stack ?? "").split("\n").filter((line) => /^\s+at /.test(line));
  return {
    name: error.name === "Error" ? error.constructor.name : error.name,
    ...(isAbout ? {} : { message: error.message }),
    ...(typeof code === "string" ? { code } : {}),
    ...(typeof errno === "number" ? { errno } : {}),
    ...(typeof sqlState === "string" ? { sqlState } : {}),
    at: lines.slice(0, MAX_LINES).map((line) => line.trim()),
    ...(cause === undefined ? {} : { cause: errorForLog(cause) }),
  };
}

/** Whether a message repeats one of the database. */
function isOfDatabase(error: unknown): boolean {
  return error instanceof Error && ("sql" in error || "sqlState" in error);
}
