/** The name and the key of a source that is to be. */
export function NameAndKey(props: {
  readonly name: string;
  readonly onName: (name: string) => void;
  readonly keyColumn: string;
  readonly onKey: (key: string) => void;
  /** What stands for no column; null where there must be one. */
  readonly none: string | null;
  readonly columns: readonly string[];
}) {
  const { name, onName, keyColumn, onKey, none, columns } = props;
  return (
    <div className="grid grid-cols-2 gap-3 text-sm">
      <label className="flex flex-col gap-1">
        Name of the source
        <input
          className="input input-sm w-full"
          value={name}
          required
          pattern="[A-Za-z][A-Za-z0-9_\-]{0,63}"
          title="A letter, then letters, digits, - or _"
          onChange={(event) => onName(event.target.value)}
        />
      </label>
      <label className="flex flex-col gap-1">
        Key column
        <select
          className="select select-sm w-full"
          value={keyColumn}
          onChange={(event) => onKey(event.target.value)}
        >
          {none === null ? null : <option value="">{none}</option>}
          {columns.map((column) => (
            <option key={column}>{column}</option>
          ))}
        </select>
      </label>
    </div>
  );
}
