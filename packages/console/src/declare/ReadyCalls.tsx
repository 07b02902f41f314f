import { Copy } from "lucide-react";
import { callsOf } from "./calls.js";
import type { CallersParameter } from "./Preview.js";

/** The calls that return what the preview shows, ready to run. */
export function ReadyCalls(props: {
  readonly name: string;
  readonly parameters: readonly CallersParameter[];
  /** What is filled in, by parameter. */
  readonly values: Readonly<Record<string, string>>;
}) {
  const { name, parameters, values } = props;
  return (
    <section aria-labelledby="calls" className="mt-10 border-t border-base-300 pt-4">
      <h2 id="calls" className="font-sentence text-xl">
        Calls for what the preview shows
      </h2>
      {callsOf(location.origin, name, parameters, values).map(({ title, code }) => (
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
