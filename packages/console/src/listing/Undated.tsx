import type { TimelineAnswer } from "@orisma/core/internal";
import { numberText } from "./counts.js";

/** What has no place in time: a mark of its own each. */
export function Undated(props: {
  readonly answer: TimelineAnswer;
  /** Leads to those that are blank, where that can be requested. */
  readonly onBlank: (() => void) | null;
}) {
  const { answer, onBlank } = props;
  const { blank, unreadable, before } = answer;
  return (
    <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-2 text-sm tabular-nums">
      <dt>
        <span
          aria-hidden
          className="me-1 inline-block size-3 border border-dashed border-base-content"
        />
        blank
      </dt>
      <dd>
        {onBlank === null || blank === 0 ? (
          numberText(blank)
        ) : (
          <button type="button" className="link" onClick={onBlank}>
            {numberText(blank)}
          </button>
        )}
      </dd>
      <dt>
        <span aria-hidden className="me-1 inline-block h-1 w-3 bg-error align-middle" />
        unreadable
      </dt>
      <dd>{numberText(unreadable)}</dd>
      <dt>
        <span aria-hidden className="me-1 inline-block size-3 border-e-2 border-accent" />
        empty
      </dt>
      <dd>
        {numberText(answer.empty)} {answer.unit}s
      </dd>
      {before === null ? null : (
        <>
          <dt>before</dt>
          <dd>{numberText(before.records)}</dd>
        </>
      )}
    </dl>
  );
}
