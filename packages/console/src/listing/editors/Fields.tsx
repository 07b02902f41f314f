import { takesDates, type ParameterDeclaration, type WindowContext } from "@orisma/core/internal";
import { capitalised } from "../../dates/words.js";
import { echoOf, type Echo } from "../echo.js";

/** How each comparison is said before its value. */
const WORDS: Readonly<Record<ParameterDeclaration["comparison"], string>> = {
  from: "from",
  to: "up to and including",
  on: "in",
  notOn: "not in",
  after: "after",
  before: "before",
  is: "just",
  isNot: "not",
  atLeast: "at least",
  above: "above",
  atMost: "at most",
  below: "below",
  within: "within",
  outside: "outside",
  contains: "contains",
  lacks: "does not contain",
  begins: "begins with",
  ends: "ends with",
  among: "one of",
  noneOf: "none of",
};

export interface ParameterFieldProps {
  readonly parameter: ParameterDeclaration;
  /** The clock and the zone in which a date is shown. */
  readonly context: WindowContext;
  readonly value: string;
  /** What stands there while nothing is requested: the extent of the data, where it is declared. */
  readonly shown: string | undefined;
  /** What the service found wrong with the value that was requested. */
  readonly failure: string | null;
  readonly onChange: (value: string) => void;
}

/** A value as it is typed: dates in any precision or the notation of windows, echoed in words. */
export function ParameterField(props: ParameterFieldProps) {
  const { parameter, context, value, shown, failure, onChange } = props;
  const { name, label = wordsFor(parameter), description } = parameter;
  const echo: Echo = takesDates(parameter)
    ? echoOf(value, parameter, context)
    : { text: "", isFault: false };
  const isWrong = failure !== null || echo.isFault;
  const returned = failure ?? (echo.text === "" ? (description ?? "") : echo.text);
  return (
    <div className="flex w-56 flex-col">
      <label htmlFor={`field-${name}`} className="pb-1 text-sm font-medium">
        {label}
      </label>
      <input
        id={`field-${name}`}
        name={name}
        className="input w-full font-mono aria-[invalid=true]:border-error"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        placeholder={shown ?? placeholderOf(parameter)}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={isWrong}
        aria-describedby={`hint-${name}`}
      />
      <p
        id={`hint-${name}`}
        role={failure === null ? undefined : "alert"}
        className={`min-h-7 pt-1 text-sm ${isWrong ? "text-error" : "opacity-80"}`}
      >
        {returned}
      </p>
      {(failure === null ? (echo.readings ?? []) : []).map((each) => (
        <button
          key={each.value}
          type="button"
          className="btn btn-sm mb-2 justify-start"
          onClick={() => onChange(each.value)}
        >
          {capitalised(each.text)}
        </button>
      ))}
    </div>
  );
}

function wordsFor(parameter: ParameterDeclaration): string {
  const { type, name, comparison } = parameter;
  return type === "search" ? name : WORDS[comparison];
}

function placeholderOf(parameter: ParameterDeclaration): string {
  if (parameter.example !== undefined) return parameter.example;
  if (parameter.type === "window") return "month-1, 2025-02/now";
  if (takesDates(parameter)) return "2025-02-28, 2025-02";
  if (parameter.type === "several") return "low, high";
  return parameter.type === "range" ? "100/250" : "any";
}
