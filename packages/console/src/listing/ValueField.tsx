import type { ValueParameter } from "@orisma/core";

/** How each comparison is said before the value. */
const WORDS: Readonly<Record<ValueParameter["comparison"], string>> = {
  is: "",
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

export interface ValueFieldProps {
  readonly parameter: ValueParameter;
  readonly value: string;
  readonly failure: string | null;
  readonly onChange: (value: string) => void;
}

/** A number, a text or a choice within the sentence of a listing. */
export function ValueField({ parameter, value, failure, onChange }: ValueFieldProps) {
  const { name, column, type, comparison, values, example } = parameter;
  const said = type === "search" ? name : `${column ?? name} ${WORDS[comparison]}`;
  const { label = said } = parameter;
  const choices = type === "boolean" ? ["yes", "no"] : values;
  const common = {
    id: name,
    value,
    "aria-invalid": failure !== null,
    "aria-describedby": `${name}-told`,
    className: "w-44 bg-transparent px-2 py-1 font-mono text-lg",
  };
  return (
    <span className="inline-flex w-fit flex-col align-top">
      <span className="inline-flex items-baseline gap-2">
        <label htmlFor={name}>{label}</label>
        <span className="inline-flex items-center border-b-2 border-primary bg-base-200 has-[[aria-invalid=true]]:border-error">
          {choices === undefined ? (
            <input
              {...common}
              placeholder={type === "range" ? "100/250" : (example ?? "any")}
              autoComplete="off"
              onChange={(event) => onChange(event.target.value)}
            />
          ) : (
            <select {...common} onChange={(event) => onChange(event.target.value)}>
              <option value="">any</option>
              {choices.map((choice) => (
                <option key={choice}>{choice}</option>
              ))}
            </select>
          )}
        </span>
      </span>
      <span
        id={`${name}-told`}
        role={failure === null ? undefined : "alert"}
        className="w-0 min-h-8 min-w-full pt-1 font-sans text-sm text-error"
      >
        {failure ?? ""}
      </span>
    </span>
  );
}
