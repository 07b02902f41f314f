import type { DateParameter } from "@orisma/core";
import { CalendarDays } from "lucide-react";
import { useRef } from "react";
import { echoOf } from "./echo.js";

export interface DateFieldProps {
  readonly parameter: DateParameter;
  /** The zone of the listing. */
  readonly zone: string;
  readonly value: string;
  /** What stands there while nothing is asked for: the extent of the data, where it is declared. */
  readonly shown: string | undefined;
  /** What the service found wrong with the value that was asked for. */
  readonly failure: string | null;
  readonly onChange: (value: string) => void;
  /** Called with a day picked from the calendar, which takes effect at once. */
  readonly onPick: (value: string) => void;
}

/** A date in the sentence: typed in ISO 8601 at any precision, or picked; echoed in long form. */
export function DateField(props: DateFieldProps) {
  const { parameter, zone, value, shown, failure, onChange, onPick } = props;
  const { name, label: word = parameter.comparison, type } = parameter;
  const picker = useRef<HTMLInputElement>(null);
  const echo = echoOf(value, parameter, zone);
  return (
    <span className="inline-flex w-fit flex-col align-top">
      <span className="inline-flex items-baseline gap-2">
        <label htmlFor={name}>{word}</label>
        <span className="relative inline-flex items-center border-b-2 border-primary bg-base-200 has-[[aria-invalid=true]]:border-error">
          <input
            id={name}
            name={name}
            className={`${type === "window" ? "w-64" : "w-44"} bg-transparent px-2 py-1 font-mono text-lg`}
            value={value}
            onChange={(event) => onChange(event.target.value)}
            placeholder={shown ?? (type === "window" ? "any window" : "any date")}
            autoComplete="off"
            spellCheck={false}
            aria-invalid={failure !== null || echo.isFault}
            aria-describedby={`${name}-echo`}
          />
          {type === "window" ? null : (
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label={`Pick a day for “${word}”`}
              onClick={() => picker.current?.showPicker()}
            >
              <CalendarDays className="size-4" aria-hidden />
            </button>
          )}
          <input
            ref={picker}
            type="date"
            tabIndex={-1}
            aria-hidden
            className="pointer-events-none absolute inset-x-0 bottom-0 h-0 opacity-0"
            value={/^\d{4}-\d\d-\d\d$/.test(value) ? value : ""}
            onChange={(event) => onPick(event.target.value)}
          />
        </span>
      </span>
      <span
        id={`${name}-echo`}
        role={failure === null ? undefined : "alert"}
        className={`w-0 min-h-16 min-w-full pt-1 font-sans text-sm ${failure !== null || echo.isFault ? "text-error" : "opacity-75"}`}
      >
        {failure ?? echo.text}
      </span>
    </span>
  );
}
