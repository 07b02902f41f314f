import { OrismaError, type ProblemDocument } from "@orisma/client";
import type { RecordsAnswer, RenderedFault } from "@orisma/core/internal";
import { Message } from "../frame/Message.js";
import { isBroken } from "../service/connection.js";
import { capitalised } from "../dates/words.js";

/** How a date can be written, for whoever wrote one that cannot be read. */
const EXAMPLES = "2025-02-28, 2025-02, 2025, today or month-1";

/** What the service found wrong with a parameter. */
export function failureOf(problem: ProblemDocument | null, name: string): string | null {
  const found = problem?.faults.find(({ parameter }) => parameter === name);
  if (found === undefined) return null;
  const { message, nearest, code } = found;
  const returned = /[.?]$/.test(message) ? message : `${message}.`;
  if (nearest === undefined) {
    return code.startsWith("date.") ? `${returned} Write it as ${EXAMPLES}.` : returned;
  }
  const unsaid = nearest.filter((each) => !message.includes(each));
  return unsaid.length === 0 ? returned : `${returned} Write ${unsaid.join(" or ")}.`;
}

/** Milliseconds until a service that is away is tried again. */
export const AGAIN_MS = 5_000;

/** Says that the service is away, and of when what is shown is. */
export function Away(props: {
  readonly error: Error | null;
  readonly answer: RecordsAnswer | undefined;
  readonly isLoading: boolean;
  readonly onAgain: () => void;
}) {
  const { error, answer, isLoading, onAgain } = props;
  return (
    <div className="my-4">
      <Message kind="error" title="The service does not answer">
        <p>
          {error instanceof OrismaError && error.status === 503
            ? error.message
            : "It may be starting, or the connection is lost."}{" "}
          {answer === undefined
            ? "It retries automatically."
            : `The records below were read at ${new Date(answer.meta.readAt).toLocaleTimeString()}; it retries automatically.`}
        </p>
        <button type="button" className="btn btn-sm mt-2" disabled={isLoading} onClick={onAgain}>
          Try again now
        </button>
      </Message>
    </div>
  );
}

/** A failure in plain words: each fault, and what was probably meant, to be taken with one press. */
export function Failure(props: {
  readonly error: Error;
  readonly onTake: (fault: RenderedFault, meant: string) => void;
}) {
  const { error, onTake } = props;
  const isUnfit = error instanceof OrismaError && isBroken(error);
  const found = error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
  const faults = isUnfit ? [] : found;
  const isRequested = error instanceof OrismaError && error.status === 422;
  const title = isRequested ? "Invalid filter: nothing was run" : "The records could not be read";
  return (
    <div className="my-4">
      <Message kind="error" title={isUnfit ? "This listing cannot be served" : title}>
        {faults.length === 0 ? error.message : null}
        {faults.map((found) => (
          <div
            key={`${found.parameter ?? ""} ${found.message}`}
            className="flex flex-wrap items-center gap-2"
          >
            <p>
              {found.parameter === undefined ? "" : `${found.parameter}: `}
              {capitalised(found.message)}.
            </p>
            {(found.parameter === undefined ? [] : (found.nearest ?? [])).map((each) => (
              <button
                key={each}
                type="button"
                className="btn btn-sm"
                onClick={() => onTake(found, each)}
              >
                Use {each}
              </button>
            ))}
          </div>
        ))}
      </Message>
    </div>
  );
}
