/** Dated, blank and unreadable cells: three figures that add up to all. */
export function Shares(props: {
  readonly dated: number;
  readonly blank: number;
  /** Null where every text can be read, because none has to mean anything. */
  readonly unreadable: number | null;
  /** What the cells that can be read are. */
  readonly word: string;
}) {
  const { dated, blank, unreadable, word } = props;
  const all = Math.max(1, dated + blank + (unreadable ?? 0));
  const parts = [
    { name: word, count: dated, colour: "bg-secondary" },
    { name: "blank", count: blank, colour: "bg-base-300" },
    ...(unreadable === null ? [] : [{ name: "unreadable", count: unreadable, colour: "bg-error" }]),
  ];
  return (
    <div className="w-full max-w-xl">
      <div aria-hidden className="flex h-1.5 gap-0.5">
        {parts.map(({ name, count, colour }) =>
          count === 0 ? null : (
            <span
              key={name}
              className={`min-w-1 rounded-full ${colour}`}
              style={{ width: `${(count / all) * 100}%` }}
            />
          ),
        )}
      </div>
      <p className="mt-1 flex flex-wrap gap-x-4 text-sm tabular-nums">
        {parts.map(({ name, count }) => (
          <span
            key={name}
            className={name === "unreadable" && count > 0 ? "font-semibold text-error" : ""}
          >
            {count.toLocaleString("en-GB")} {name}
          </span>
        ))}
      </p>
    </div>
  );
}
