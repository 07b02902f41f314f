import type { ReactNode } from "react";

const KINDS = {
  error: "border-error",
  notice: "border-warning",
  info: "border-secondary",
} as const;

/** Something to report, with a bar at its side whose colour says how grave it is. */
export function Message(props: {
  readonly kind: keyof typeof KINDS;
  readonly title?: string;
  readonly children: ReactNode;
}) {
  const { kind, title, children } = props;
  return (
    <div
      role={kind === "error" ? "alert" : "status"}
      className={`max-w-prose border-l-4 bg-base-200 px-4 py-3 ${KINDS[kind]}`}
    >
      {title === undefined ? null : <p className="font-semibold">{title}</p>}
      <div>{children}</div>
    </div>
  );
}

/** What went wrong, if anything did. */
export function Failed({ error, title }: { readonly error: Error | null; readonly title: string }) {
  if (error === null) return null;
  return (
    <Message kind="error" title={title}>
      {error.message}.
    </Message>
  );
}
