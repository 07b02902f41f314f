import type { ComparedAnswer } from "@orisma/core/internal";
import { totalText } from "./counts.js";

/** The records that only one of two requests keeps: how many, and the first of them by name. */
export function Difference(props: { readonly words: string; readonly answer: ComparedAnswer }) {
  const { words, answer } = props;
  const names = answer.records.map(({ id }) => id).join(", ");
  const isMore = answer.total === null || answer.total > answer.records.length;
  return (
    <>
      <dt>{words}</dt>
      <dd className="tabular-nums">{totalText(answer)}</dd>
      <dd className="opacity-90">
        {names}
        {isMore ? " …" : ""}
      </dd>
    </>
  );
}
