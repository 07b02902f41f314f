import type { ColumnProfile } from "@orisma/core/internal";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { service } from "../service/service.js";

/** The cells of a column that cannot be read, each to be given another text. */
export function Repairs({
  source,
  column,
}: {
  readonly source: string;
  readonly column: ColumnProfile;
}) {
  if (column.unreadable.length === 0) return null;
  return (
    <div className="mt-4">
      <h3 className="text-sm font-semibold">Unreadable cells</h3>
      <ul className="mt-1 grid gap-x-6 gap-y-1 xl:grid-cols-2">
        {column.unreadable.map(({ id, value }) => (
          <Repair key={id} source={source} column={column.name} id={id} value={value} />
        ))}
      </ul>
    </div>
  );
}

function Repair(props: {
  readonly source: string;
  readonly column: string;
  readonly id: string | number;
  readonly value: string;
}) {
  const { source, column, id, value } = props;
  const [text, setText] = useState(value);
  const queries = useQueryClient();
  const repair = useMutation({
    mutationFn: () => service.repairCell(source, { id, column, value: text }),
    onSuccess: async ({ state }) => {
      if (state !== "unreadable") await queries.invalidateQueries();
    },
  });
  return (
    <li className="flex flex-wrap items-center gap-2 text-sm">
      <span className="w-32 truncate tabular-nums" title={String(id)}>
        {id}
      </span>
      <input
        aria-label={`${column} of ${id}`}
        className="input w-40 font-mono input-xs"
        value={text}
        spellCheck={false}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          repair.mutate();
        }}
      />
      <button
        type="button"
        className="btn btn-xs"
        disabled={text === value || repair.isPending}
        onClick={() => repair.mutate()}
      >
        Repair
      </button>
      {repair.data?.fault === undefined ? null : (
        <span role="alert" className="text-error">
          {repair.data.fault.message}
        </span>
      )}
      {repair.isError ? <span role="alert">{repair.error.message}</span> : null}
    </li>
  );
}
