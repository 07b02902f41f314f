import type { FileInspection, FileOptions } from "@orisma/client";
import { useState } from "react";
import { Message } from "../frame/Message.js";
import { countedRecords } from "./counted.js";

const DELIMITERS: Readonly<Record<string, string>> = {
  ",": "commas",
  ";": "semicolons",
  "\t": "tabs",
  "|": "bars",
  " ": "spaces",
};

/** What a file is, with its first records. */
export function Look({ inspection }: { readonly inspection: FileInspection }) {
  const { format, delimiter, encoding, sheet, headingLine, remarks, headings, sample } = inspection;
  const { records, refused } = inspection;
  const facts = [
    format === "delimited"
      ? `text with ${DELIMITERS[delimiter ?? ""] ?? delimiter}`
      : format.toUpperCase(),
    encoding,
    sheet === undefined ? null : `sheet “${sheet}”`,
    headingLine === 0 ? null : `headings on line ${headingLine}`,
    records === null ? "more than 200,000 records" : countedRecords(records),
    (refused ?? 0) > 0 ? `${refused} of them would be refused` : null,
  ].filter((fact) => fact != null);
  return (
    <div className="flex flex-col gap-2">
      <p className="text-sm">{facts.join(", ")}</p>
      {remarks.map((remark) => (
        <Message key={remark} kind="notice">
          {remark}.
        </Message>
      ))}
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="First records">
        <table className="table table-xs whitespace-nowrap">
          <thead>
            <tr>
              {headings.map((heading) => (
                <th key={heading}>{heading}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.slice(0, 6).map(({ line, cells }) => (
              <tr key={line}>
                {headings.map((heading, index) => (
                  <td key={heading} className="max-w-48 truncate">
                    {cells[index] ?? <span className="opacity-50">nothing</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

/** How a file is to be read where it was not read as it should be. */
export function Otherwise(props: {
  readonly inspection: FileInspection | undefined;
  readonly options: FileOptions;
  readonly onChange: (options: FileOptions) => void;
}) {
  const { inspection, options, onChange } = props;
  const set = (name: keyof FileOptions, text: string) => {
    const { [name]: _, ...others } = options;
    const isNumber = name === "skip" || name === "headings" || name === "lastRow";
    const value = isNumber ? Number(text) : text;
    onChange(text === "" ? others : { ...others, [name]: value });
  };
  const sheets = inspection?.sheets ?? [];
  // Whoever opens or closes it has it so, whatever is found out about the file in the meantime.
  const [chosen, setChosen] = useState<boolean | null>(null);
  const isOpen = chosen ?? (inspection === undefined || inspection.headings.length === 0);
  return (
    <details className="text-sm" open={isOpen}>
      <summary
        className="cursor-pointer"
        onClick={(event) => {
          event.preventDefault();
          setChosen(!isOpen);
        }}
      >
        Change how it is read
      </summary>
      <div className="mt-2 grid grid-cols-2 gap-3">
        {sheets.length > 1 ? (
          <label className="col-span-2 flex flex-col gap-1">
            Sheet
            <select
              className="select select-sm"
              value={options.sheet ?? inspection?.sheet ?? ""}
              onChange={(event) => set("sheet", event.target.value)}
            >
              {sheets.map(({ name, reason }) => (
                <option key={name} value={name}>
                  {name}
                  {reason === null ? "" : ` (${reason})`}
                </option>
              ))}
            </select>
          </label>
        ) : null}
        <Option label="Lines above the headings" name="skip" type="number" onSet={set} />
        <Option label="Rows of headings" name="headings" type="number" onSet={set} />
        <Option label="Last row that is a record" name="lastRow" type="number" onSet={set} />
        <Option label="Delimiter" name="delimiter" type="text" onSet={set} />
        <Option label="Encoding" name="encoding" type="text" onSet={set} />
      </div>
    </details>
  );
}

function Option(props: {
  readonly label: string;
  readonly name: keyof FileOptions;
  readonly type: "number" | "text";
  readonly onSet: (name: keyof FileOptions, text: string) => void;
}) {
  const { label, name, type, onSet } = props;
  return (
    <label className="flex flex-col gap-1">
      {label}
      <input
        type={type}
        min={0}
        className="input input-sm w-full"
        placeholder="detected"
        onBlur={(event) => onSet(name, event.target.value.trim())}
        onKeyDown={(event) => {
          if (event.key === "Enter") onSet(name, event.currentTarget.value.trim());
        }}
      />
    </label>
  );
}
