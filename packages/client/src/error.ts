import type { ProblemDocument } from "@orisma/contract";

/** A call that failed: with the service's own account of it where there is one. */
export class OrismaError extends Error {
  override readonly name = "OrismaError";

  constructor(
    message: string,
    /** The HTTP status; 0 where no answer came. */
    readonly status: number,
    readonly problem: ProblemDocument | null,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

/** The problem document of an answer, or null where it has none. */
export async function problemFrom(response: Response): Promise<ProblemDocument | null> {
  if (!(response.headers.get("Content-Type") ?? "").startsWith("application/problem+json"))
    return null;
  try {
    return (await response.json()) as ProblemDocument;
  } catch {
    return null;
  }
}
