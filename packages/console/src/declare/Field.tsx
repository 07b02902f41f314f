import type { ReactNode } from "react";

/** A field of the declaration's form, with what is wrong with it. */
export function Field(props: {
  readonly label: string;
  readonly fault: string | undefined;
  readonly children: ReactNode;
}) {
  return (
    <label
      className={`flex min-w-0 flex-col font-medium [&_input]:font-normal [&_select]:font-normal ${
        props.fault === undefined ? "" : "[&_input]:border-error [&_select]:border-error"
      }`}
    >
      {props.label}
      {props.children}
      {props.fault === undefined ? null : (
        <span className="text-sm font-normal text-error">{props.fault}</span>
      )}
    </label>
  );
}
