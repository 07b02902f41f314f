import type { ListingDescription } from "@orisma/client";
import { STEPS, type Step } from "./clock.js";

const ZONES = Intl.supportedValuesOf("timeZone");

export interface WindowFormProps {
  readonly window: string;
  /** The listing whose calendar it is; empty for that of ISO 8601. */
  readonly like: string;
  readonly zone: string;
  readonly asOf: string;
  readonly listings: readonly ListingDescription[];
  readonly canMove: boolean;
  /** Whether it is another instant than now. */
  readonly isMoved: boolean;
  readonly onSet: (sent: Readonly<Record<string, string>>) => void;
  readonly onMove: (step: Step) => void;
}

/** The window, and where and when it is looked at. */
export function WindowForm(props: WindowFormProps) {
  const { window, like, zone, asOf, listings, canMove, isMoved, onSet, onMove } = props;
  return (
    <>
      <form className="mt-4 grid gap-4 sm:grid-cols-3" onSubmit={(event) => event.preventDefault()}>
        <label className="flex flex-col gap-1 sm:col-span-3">
          Window
          <input
            className="input w-full font-mono input-lg"
            value={window}
            spellCheck={false}
            autoComplete="off"
            onChange={(event) => onSet({ window: event.target.value })}
          />
        </label>
        <label className="flex flex-col gap-1">
          Calendar
          <select
            className="select w-full"
            value={like}
            onChange={(event) => onSet({ like: event.target.value, zone: "" })}
          >
            <option value="">of ISO 8601</option>
            {listings.map(({ name, title }) => (
              <option key={name} value={name}>
                of {title}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-1">
          Zone
          <input
            className="input w-full"
            list="zones"
            value={zone}
            spellCheck={false}
            onChange={(event) => onSet({ zone: event.target.value })}
          />
          <datalist id="zones">
            {ZONES.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </datalist>
        </label>
        <label className="flex flex-col gap-1">
          As of
          <input
            className="input w-full font-mono"
            value={asOf}
            spellCheck={false}
            onChange={(event) => onSet({ asOf: event.target.value })}
          />
        </label>
      </form>
      <p className="mt-3 flex flex-wrap gap-2">
        {STEPS.map((step) => (
          <button
            key={step.words}
            type="button"
            className="btn btn-sm"
            disabled={!canMove}
            onClick={() => onMove(step)}
          >
            {step.words}
          </button>
        ))}
        <button
          type="button"
          className="btn btn-sm"
          disabled={!isMoved}
          onClick={() => onSet({ asOf: "" })}
        >
          now
        </button>
      </p>
    </>
  );
}
