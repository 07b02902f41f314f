import {
  answerWindow,
  readWindow,
  renderFault,
  resolveWindow,
  type Interval,
  type RenderedFault,
  type WindowAnswer,
  type WindowContext,
} from "@orisma/core/internal";
import { Message } from "../frame/Message.js";
import { capitalised } from "../dates/words.js";
import { OWN_ZONE } from "../dates/zones.js";
import { Before } from "./Before.js";
import { Edges } from "./Edges.js";
import { YearLines } from "./YearLines.js";

export function Faults({ faults }: { readonly faults: readonly RenderedFault[] }) {
  return (
    <div className="mt-4">
      {faults.map(({ message, accepted }) => (
        <Message key={message} kind="error">
          {message}.
          {accepted === undefined ? null : (
            <p className="text-sm opacity-80">Accepted: {accepted}</p>
          )}
        </Message>
      ))}
    </div>
  );
}

/** What a window comes to: in words, as edges, and on the days of a year. */
export function Answer({
  text,
  context,
}: {
  readonly text: string;
  readonly context: WindowContext;
}) {
  const answer = answerWindow(text, context);
  if (!answer.ok) return <Faults faults={answer.faults.map(renderFault)} />;
  const { sentence, canonical, notices, intervals } = answer.value;
  const covered = intervalsOf(text, context);
  return (
    <div className="mt-5 flex flex-col gap-4">
      <div aria-live="polite">
        <p className="font-sentence text-xl">{capitalised(sentence)}.</p>
        <p className="text-sm opacity-75">
          <code>{canonical}</code> {changeInWords(answer.value)}.
        </p>
      </div>
      {notices.map(({ code, message }) => (
        <Message key={`${code} ${message}`} kind="notice">
          {capitalised(message)}.
        </Message>
      ))}
      <YearLines intervals={covered} context={context} />
      {intervals.length === 0 ? null : (
        <Edges intervals={intervals} zone={context.zone.id} reader={OWN_ZONE} />
      )}
      <Before intervals={covered} context={context} />
    </div>
  );
}

function intervalsOf(text: string, context: WindowContext): readonly Interval[] {
  const read = readWindow(text);
  const resolved = read.ok ? resolveWindow(read.value.window, context) : null;
  return resolved?.ok === true ? resolved.value.intervals : [];
}

function changeInWords({ nextChange, asOf }: WindowAnswer): string {
  if (nextChange === null) return "never changes";
  return nextChange === asOf ? "changes all the time" : `next changes at ${nextChange}`;
}
