import type { ColumnPreview, ReadingsPreview } from "@orisma/client";
import {
  DATE_ENCODINGS,
  DATE_KINDS,
  PARTIAL_POLICIES,
  nameOf,
  sampleInWords,
  type ColumnProfile,
  type ColumnSample,
} from "@orisma/core/internal";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { ImportProgress, ImportFailed } from "../imports/ImportProgress.js";
import { Evidence } from "./Evidence.js";
import { Repairs } from "./Repairs.js";
import { Shares } from "./Shares.js";
import { TimeStrip } from "./TimeStrip.js";
import { Uses } from "./Uses.js";
import {
  HELD,
  draftOf,
  plainMeaning,
  sentOf,
  withLine,
  type ColumnSent,
  type Draft,
} from "./draft.js";

const KINDS = { date: "days", local: "wall-clock times", instant: "points in time" };
const PARTIAL_WORDS = [
  ["", "is no date"],
  ["start", "is its first day"],
  ["inside", "lies in a window with all of its days"],
  ["overlaps", "lies in a window with any of its days"],
] as const;
const SETTLE_MS = 350;

/** Sets how a column is read: each change of the form is tried on all of its strings before it is stored. */
export function ReadingEditor(props: {
  readonly source: string;
  readonly column: ColumnProfile;
  readonly onDone: () => void;
}) {
  const { source, column, onDone } = props;
  const queries = useQueryClient();
  const [draft, setDraft] = useState<Draft>(() => draftOf(column));
  const rested = useRested(draft);
  const sent = sentOf(rested);
  const preview = useQuery({
    meta: { doing: "Trying the reading on every value" },
    queryKey: ["preview", source, column.name, JSON.stringify(sent)],
    queryFn: ({ signal }) => service.previewReadings(source, { [column.name]: sent }, signal),
    placeholderData: keepPreviousData,
  });
  const shown = preview.data?.columns[column.name];
  // What would break stands beside the button by now; what is typed after that is not tried yet.
  const willBreak = (preview.data?.breaks.length ?? 0) > 0 && rested === draft;
  const save = useMutation({
    mutationFn: (force: boolean) =>
      service.setReadings(source, { [column.name]: sentOf(draft) }, { force }),
    onSuccess: async () => {
      await queries.invalidateQueries();
      onDone();
    },
  });
  return (
    <form
      aria-label={`Set the reading of ${column.name}`}
      className="mt-4 grid gap-8 border-l-4 border-primary bg-base-200 p-4 lg:grid-cols-[20rem_1fr]"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(willBreak);
      }}
    >
      <Evidence
        column={column}
        taken={takenIn(draft)}
        onPick={(fields) => setDraft({ ...draft, type: "date", ...fields })}
      />
      <div className="flex flex-col gap-3 text-sm">
        <Fields draft={draft} onChange={setDraft} />
        {save.isPending ? (
          <ImportProgress source={source} onCancel={() => void service.cancelImport(source)} />
        ) : (
          <button type="submit" className="btn mt-1 self-start btn-primary btn-sm">
            {willBreak ? "Set anyway" : "Set the reading"}
          </button>
        )}
        {save.isError ? (
          <ImportFailed
            error={save.error}
            title="The reading was not set"
            onForce={() => save.mutate(true)}
          />
        ) : null}
        <Uses source={source} column={column.name} />
      </div>
      <section aria-label="Result" aria-busy={preview.isFetching || rested !== draft}>
        {preview.isError ? (
          <Message kind="error" title="This reading does not fit">
            {preview.error.message}.
          </Message>
        ) : (
          <>
            <Breaking breaks={preview.data?.breaks ?? []} />
            {shown === undefined ? null : (
              <Preview
                preview={shown}
                sent={sent}
                onBlank={(text) => setDraft(withLine(draft, "blanks", text))}
              />
            )}
          </>
        )}
        <Repairs source={source} column={column} />
      </section>
    </form>
  );
}

/** The listings that would no longer be served if it were confirmed so. */
function Breaking({ breaks }: Pick<ReadingsPreview, "breaks">) {
  if (breaks.length === 0) return null;
  return (
    <Message kind="notice" title="Listings would no longer be served">
      <ul className="list-disc pl-5">
        {breaks.map(({ listing, reason }) => (
          <li key={listing}>
            {listing}: {reason}
          </li>
        ))}
      </ul>
    </Message>
  );
}

/** A value once it has not changed for a moment. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return rested;
}

function Fields({
  draft,
  onChange,
}: {
  readonly draft: Draft;
  readonly onChange: (draft: Draft) => void;
}) {
  const set = (fields: Partial<Draft>) => onChange({ ...draft, ...fields });
  return (
    <>
      <Choice
        label="Type"
        value={draft.type}
        options={Object.entries(HELD)}
        onSet={(type) => set({ type: type as Draft["type"] })}
      />
      {draft.type === "integer" || draft.type === "decimal" ? (
        <NumberFields draft={draft} onSet={set} />
      ) : null}
      {draft.type !== "boolean" ? null : (
        <>
          <Line
            label="Words for yes"
            value={draft.yes}
            hint="yes, true"
            onSet={(yes) => set({ yes })}
          />
          <Line
            label="Words for no"
            value={draft.no}
            hint="no, false"
            onSet={(no) => set({ no })}
          />
        </>
      )}
      {draft.type !== "date" ? null : (
        <>
          <Choice
            label="Kind"
            value={draft.kind}
            options={DATE_KINDS.map((kind) => [kind, KINDS[kind]])}
            onSet={(kind) => set({ kind: kind as Draft["kind"] })}
          />
          <Choice
            label="Stored as"
            value={draft.encoding}
            options={DATE_ENCODINGS.filter((each) => each !== "native").map((each) => [each, each])}
            onSet={(encoding) => set({ encoding: encoding as Draft["encoding"] })}
          />
          {draft.encoding !== "text" ? null : (
            <>
              <Lines
                label="Patterns, tried in order; none for ISO 8601"
                value={draft.patterns}
                onSet={(patterns) => set({ patterns })}
              />
              <Line
                label="Languages of names"
                value={draft.locales}
                hint="en"
                onSet={(locales) => set({ locales })}
              />
              {/(?:^|[^y])yy(?:[^y]|$)/m.test(draft.patterns) ? (
                <Line
                  label="First year of two-digit years"
                  value={draft.twoDigitYearFrom}
                  hint="1970"
                  onSet={(twoDigitYearFrom) => set({ twoDigitYearFrom })}
                />
              ) : null}
            </>
          )}
          {draft.kind === "date" && draft.encoding === "text" ? (
            <Choice
              label="A month or a year without a day"
              value={draft.partial}
              options={PARTIAL_WORDS}
              onSet={(value) =>
                set({ partial: PARTIAL_POLICIES.find((each) => each === value) ?? "" })
              }
            />
          ) : null}
          {draft.kind === "instant" ? (
            <Line
              label="Time zone where none is written"
              value={draft.zone}
              hint="UTC"
              onSet={(zone) => set({ zone })}
            />
          ) : null}
          <Lines
            label="Spellings of “no date”"
            value={draft.blanks}
            onSet={(blanks) => set({ blanks })}
          />
          <Lines
            label="Dates that mean “no date”"
            value={draft.sentinels}
            onSet={(sentinels) => set({ sentinels })}
          />
        </>
      )}
    </>
  );
}

const GROUPS = {
  "": "none",
  ".": "point 1.234",
  ",": "comma 1,234",
  " ": "space 1 234",
  "'": "apostrophe 1'234",
};
const DECIMALS = { ".": "point 0.5", ",": "comma 0,5" };

/** How the numbers of a column are written. */
function NumberFields({
  draft,
  onSet,
}: {
  readonly draft: Draft;
  readonly onSet: (fields: Partial<Draft>) => void;
}) {
  return (
    <>
      <Choice
        label="Thousands"
        value={draft.group}
        options={Object.entries(GROUPS)}
        onSet={(text) => {
          const group = text as Draft["group"];
          const other = draft.decimal === "." ? "," : ".";
          onSet({ group, decimal: group === draft.decimal ? other : draft.decimal });
        }}
      />
      {draft.type === "integer" ? null : (
        <Choice
          label="Decimals"
          value={draft.decimal}
          options={Object.entries(DECIMALS).filter(([each]) => each !== draft.group)}
          onSet={(decimal) => onSet({ decimal: decimal as Draft["decimal"] })}
        />
      )}
      <Line
        label="Units and currencies beside them"
        value={draft.units}
        hint="€, EUR"
        onSet={(units) => onSet({ units })}
      />
      <Check
        label="(12) and 12- are negative"
        value={draft.accounting}
        onSet={(accounting) => onSet({ accounting })}
      />
    </>
  );
}

function Check(props: {
  readonly label: string;
  readonly value: boolean;
  readonly onSet: (value: boolean) => void;
}) {
  const { label, value, onSet } = props;
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={value}
        onChange={(event) => onSet(event.target.checked)}
      />
      {label}
    </label>
  );
}

function Choice(props: {
  readonly label: string;
  readonly value: string;
  readonly options: readonly (readonly [value: string, name: string])[];
  readonly onSet: (value: string) => void;
}) {
  const { label, value, options, onSet } = props;
  return (
    <label className="flex flex-col gap-1">
      {label}
      <select
        className="select w-full select-sm"
        value={value}
        onChange={(event) => onSet(event.target.value)}
      >
        {options.map(([each, name]) => (
          <option key={each} value={each}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

interface TextField {
  readonly label: string;
  readonly value: string;
  readonly onSet: (value: string) => void;
}

function Line({ label, value, hint, onSet }: TextField & { readonly hint: string }) {
  return (
    <label className="flex flex-col gap-1">
      {label}
      <input
        className="input w-full font-mono input-sm"
        value={value}
        placeholder={hint}
        spellCheck={false}
        onChange={(event) => onSet(event.target.value)}
      />
    </label>
  );
}

function Lines({ label, value, onSet }: TextField) {
  return (
    <label className="flex flex-col gap-1">
      {label}
      <textarea
        className="textarea min-h-0 w-full font-mono leading-snug textarea-sm"
        rows={Math.max(1, value.split("\n").length)}
        value={value}
        spellCheck={false}
        onChange={(event) => onSet(event.target.value)}
      />
    </label>
  );
}

/** The name of the reading that a form has; null where it has none. */
function takenIn(draft: Draft): string | null {
  const sent = sentOf(draft);
  if (sent.type !== "date") return null;
  return nameOf({ ...sent.reading, encoding: sent.reading.encoding ?? "text" });
}

/** What a text is in a column that holds no dates: a plain number, yes or no, blank, or none of them. */
function PlainMeaning({ value, sent }: { readonly value: string; readonly sent: ColumnSent }) {
  if (value.trim() === "") return <span className="opacity-60">blank</span>;
  const meaning = plainMeaning(value, sent);
  return meaning ?? <span className="text-error">{NEITHER[sent.type]}</span>;
}

const NEITHER: Readonly<Record<string, string>> = {
  integer: "not a whole number in this form",
  decimal: "not a number in this form",
  boolean: "neither yes nor no",
};

/** What a text is under the reading: a date in long form, blank, or why it is neither. */
function Meaning({ sample }: { readonly sample: ColumnSample }) {
  switch (sample.state) {
    case "dated":
      return sample.long;
    case "blank":
      return <span className="opacity-60">blank</span>;
    case "unreadable":
      return <span className="text-error">{sample.fault?.message}</span>;
    case undefined:
      return null;
  }
}

/** What the column would come to: counts, times, and its strings beside what they mean. */
function Preview(props: {
  readonly preview: ColumnPreview;
  readonly sent: ColumnSent;
  readonly onBlank: (text: string) => void;
}) {
  const { preview, sent, onBlank } = props;
  const { quality, samples, type, sample } = preview;
  return (
    <div className="flex flex-col gap-3">
      <Shares {...preview} word={type === "date" ? "dated" : "filled"} />
      {sample === null ? null : <p className="text-sm">Figures {sampleInWords(sample)}.</p>}
      {quality === null ? null : <TimeStrip quality={quality} />}
      {quality === null || quality.unreadables.length === 0 ? null : (
        <div>
          <h3 className="text-sm font-semibold">Would be unreadable</h3>
          <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
            {quality.unreadables.map(({ value, count }) => (
              <li key={value} className="tabular-nums">
                <code className="text-error">{value}</code> in {count}{" "}
                <button type="button" className="link" onClick={() => onBlank(value)}>
                  means “no date”
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
      {type === "text" ? null : (
        <table className="table w-auto table-xs">
          <thead>
            <tr>
              <th>as imported</th>
              <th>as it is read</th>
              <th className="text-right">cells</th>
            </tr>
          </thead>
          <tbody>
            {samples.map((sample) => (
              <tr key={String(sample.value)}>
                <td className="font-mono">
                  {sample.value ?? <span className="opacity-50">nothing</span>}
                </td>
                <td>
                  {type === "date" ? (
                    <Meaning sample={sample} />
                  ) : (
                    <PlainMeaning value={String(sample.value ?? "")} sent={sent} />
                  )}
                </td>
                <td className="text-right tabular-nums">{sample.count.toLocaleString("en-GB")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
