import type { NewListing } from "@orisma/client";
import { UTC, epochMs, findZone, type ParameterDeclaration } from "@orisma/core/internal";
import { Copy } from "lucide-react";
import { useState } from "react";
import { ParameterField } from "../listing/editors/Fields.js";
import { callsOf } from "./calls.js";

/** What callers of a listing would see: a field for each parameter, and calls that are ready to run. */
export function CallersView(props: { readonly name: string; readonly declaration: NewListing }) {
  const { name, declaration } = props;
  const parameters = (declaration.parameters ?? fromAndTo(declaration)).map(
    (each): ParameterDeclaration => ({ ...each, blanks: each.blanks ?? "exclude" }),
  );
  const zone = findZone(declaration.zone ?? "UTC");
  const context = { asOf: epochMs(Date.now()), zone: zone.ok ? zone.value : UTC };
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const calls = callsOf(location.origin, name, parameters, values);
  return (
    <section aria-labelledby="callers" className="mt-10 border-t border-base-300 pt-4">
      <h2 id="callers" className="font-sentence text-xl">
        Preview for callers
      </h2>
      <div className="mt-3 flex flex-wrap gap-x-6">
        {parameters.map((parameter) => (
          <div key={parameter.name}>
            <p className="font-mono text-sm">{parameter.name}</p>
            <ParameterField
              parameter={parameter}
              context={context}
              value={values[parameter.name] ?? ""}
              shown={undefined}
              failure={null}
              onChange={(value) => setValues({ ...values, [parameter.name]: value })}
            />
          </div>
        ))}
      </div>
      {calls.map(({ title, code }) => (
        <div key={title} className="mt-4">
          <h3 className="flex items-center gap-2 font-medium">
            {title}
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Copy: ${title}`}
              onClick={() => void navigator.clipboard.writeText(code)}
            >
              <Copy className="size-3.5" aria-hidden />
            </button>
          </h3>
          <pre
            className="overflow-x-auto border-s-2 border-primary bg-base-200 p-3 text-sm"
            tabIndex={0}
            role="region"
            aria-label={`${title} call`}
          >
            {code}
          </pre>
        </div>
      ))}
    </section>
  );
}

/** What a listing that declares no parameters takes at least. */
function fromAndTo({ mainDate }: NewListing): NonNullable<NewListing["parameters"]> {
  const common = { type: "date", column: mainDate ?? "" } as const;
  return [
    { ...common, name: "from", comparison: "from" },
    { ...common, name: "to", comparison: "to" },
  ];
}
