import { OrismaError, type ProblemDocument } from "@orisma/client";

/** The problem with which a call was refused; throws where it was not. */
export async function refusal(work: Promise<unknown>): Promise<ProblemDocument | null> {
  const failure: unknown = await work.catch((error: unknown) => error);
  if (!(failure instanceof OrismaError)) throw new Error("it was not refused", { cause: failure });
  return failure.problem;
}
