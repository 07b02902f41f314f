import type { NewListing, SourceColumn } from "@orisma/client";
import {
  UTC,
  epochMs,
  findZone,
  type ParameterDeclaration,
  type RecordsAnswer,
} from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Failed } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { CellFace, groupsThousands } from "../listing/Cell.js";
import { ParameterField } from "../listing/editors/Fields.js";
import { service } from "../service/service.js";
import { valuesSent } from "./calls.js";
import { parametersByDefault } from "./Parameters.js";

/** Records that are shown of a declaration. */
const SHOWN = "10";

/** Parameters with their fields in sight: one row of them. */
const FIRST = 2;

export type CallersParameter = ParameterDeclaration;

/** The parameters that callers of a listing have; those of one that declares none are the default ones. */
export function callersParameters(
  declaration: NewListing,
  columns: readonly SourceColumn[],
): readonly CallersParameter[] {
  const parameters = declaration.parameters ?? parametersByDefault(declaration, columns);
  return parameters.map((each) => ({ ...each, blanks: each.blanks ?? "exclude" }));
}

export interface PreviewProps {
  readonly name: string;
  /** The declaration as it was checked last, without faults. */
  readonly declaration: NewListing;
  readonly columns: readonly SourceColumn[];
  readonly parameters: readonly CallersParameter[];
  /** What is filled in, by parameter. */
  readonly values: Readonly<Record<string, string>>;
  /** Whether it is what stands in the file now: until then what was read before stays. */
  readonly isCurrent: boolean;
  readonly onValues: (values: Readonly<Record<string, string>>) => void;
}

/** What callers of a listing would see: a field for each parameter, and the records that it returns. */
export function Preview(props: PreviewProps) {
  const { name, declaration, parameters, values, isCurrent, onValues } = props;
  const zone = findZone(declaration.zone ?? "UTC");
  const context = { asOf: epochMs(Date.now()), zone: zone.ok ? zone.value : UTC };
  const sent = { ...Object.fromEntries(valuesSent(parameters, values)), size: SHOWN };
  const found = useQuery({
    meta: { doing: "Reading the records of the declaration" },
    queryKey: ["declared-records", name, JSON.stringify(declaration), JSON.stringify(sent)],
    queryFn: ({ signal }) => service.checkRecords(name, declaration, sent, signal),
    enabled: isCurrent,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const others = parameters.slice(FIRST);
  const field = (parameter: CallersParameter) => (
    <div key={parameter.name}>
      <p className="font-mono text-sm">{parameter.name}</p>
      <ParameterField
        parameter={parameter}
        context={context}
        value={values[parameter.name] ?? ""}
        shown={undefined}
        failure={null}
        onChange={(value) => onValues({ ...values, [parameter.name]: value })}
      />
    </div>
  );
  return (
    <section aria-labelledby="callers" className="mt-6 min-w-0">
      <h2 id="callers" className="font-sentence text-xl">
        Preview for callers
      </h2>
      <div className="mt-2 flex flex-wrap gap-x-4">{parameters.slice(0, FIRST).map(field)}</div>
      {others.length === 0 ? null : (
        <details className="mb-3">
          <summary className="cursor-pointer">
            {others.length === 1 ? "One parameter more" : `${others.length} parameters more`}
          </summary>
          <div className="mt-2 flex flex-wrap gap-x-4">{others.map(field)}</div>
        </details>
      )}
      <Failed error={found.error} title="The records could not be read" />
      {found.data === undefined || found.isError ? null : (
        <Records {...props} answer={found.data} />
      )}
    </section>
  );
}

function Records(props: PreviewProps & { readonly answer: RecordsAnswer }) {
  const { declaration, columns, answer } = props;
  const { records, meta } = answer;
  const names = Object.keys(records[0] ?? {}).filter((each) => each !== "id");
  const shown = declaration.columns?.length ? declaration.columns : names;
  const byName = new Map(columns.map((column) => [column.name, column]));
  const counted = meta.total === null ? "Not counted" : countedRecords(meta.total);
  return (
    <>
      <p aria-live="polite">{meta.sentence}</p>
      <p className="text-sm opacity-80">
        {meta.total === null || meta.totalExact ? counted : `At least ${counted}`}
        {records.length === 0 ? "" : `; the first ${records.length} are`}
        {records.length === 0 ? "." : ":"}
      </p>
      <div
        className="mt-2 overflow-x-auto"
        tabIndex={0}
        role="region"
        aria-label="Records of the declaration"
      >
        <table className="table text-sm whitespace-nowrap tabular-nums [&_td]:px-2 [&_td]:py-1 [&_th]:px-2 [&_th]:py-1">
          <thead>
            <tr className="border-b-2 border-base-300">
              {shown.map((each) => (
                <th key={each} scope="col">
                  {declaration.labels?.[each] ?? each}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {records.map((record) => (
              <tr key={record.id}>
                {shown.map((each) => {
                  const column = byName.get(each);
                  const kind = column?.type === "date" ? { kind: column.reading.kind } : {};
                  return (
                    <td key={each} className="max-w-64 truncate">
                      <CellFace
                        column={{ name: each, type: column?.type ?? "text", ...kind }}
                        zone={declaration.zone ?? "UTC"}
                        isMainDate={each === declaration.mainDate}
                        value={record[each] ?? null}
                        display={undefined}
                        unreadable={meta.unreadable[String(record.id)]?.[each]}
                        isGrouped={groupsThousands(records.map((other) => other[each]))}
                      />
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
