import type { AttachedTableDetails } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { useNavigate } from "react-router";
import { Failed } from "../frame/Message.js";
import { Pending } from "../frame/Pending.js";
import { counted } from "../imports/counted.js";
import { service } from "../service/service.js";
import { freeName } from "./free-name.js";
import { NameAndKey } from "./NameAndKey.js";

/** Makes a source of a table of an attached database, and attaches databases. */
export function AttachTable({ taken }: { readonly taken: readonly string[] }) {
  const databases = useQuery({ queryKey: ["databases"], queryFn: () => service.databases() });
  const [chosen, setChosen] = useState<string | null>(null);
  if (databases.isPending) return <Pending query={databases} height="h-24" />;
  const known = databases.data ?? [];
  const database = chosen ?? known[0]?.name ?? "";
  return (
    <div className="flex flex-col gap-4">
      <p className="text-sm opacity-80">
        A table or view of a MariaDB database of yours: it is read at every request, and never
        copied.
      </p>
      <Failed error={databases.error} title="The databases cannot be shown" />
      {known.length === 0 ? null : (
        <label className="flex flex-col gap-1 text-sm">
          Database
          <select
            className="select select-sm w-full"
            value={database}
            onChange={(event) => setChosen(event.target.value)}
          >
            {known.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
            <option value="">another one…</option>
          </select>
        </label>
      )}
      {database === "" ? (
        <AttachDatabase onDone={setChosen} />
      ) : (
        <ChooseTable key={database} database={database} taken={taken} />
      )}
    </div>
  );
}

function ChooseTable({
  database,
  taken,
}: {
  readonly database: string;
  readonly taken: readonly string[];
}) {
  const tables = useQuery({
    queryKey: ["tables", database],
    queryFn: () => service.tables(database),
  });
  const [table, setTable] = useState("");
  const details = useQuery({
    queryKey: ["table", database, table],
    queryFn: () => service.table(database, table),
    enabled: table !== "",
  });
  return (
    <>
      <Failed error={tables.error} title="The tables cannot be shown" />
      <label className="flex flex-col gap-1 text-sm">
        Table or view
        <select
          className="select select-sm w-full"
          value={table}
          onChange={(event) => setTable(event.target.value)}
        >
          <option value="">{tables.isPending ? "…" : "choose one"}</option>
          {(tables.data ?? []).map(({ name, kind, about }) => (
            <option key={name} value={name}>
              {name}
              {kind === "view"
                ? ", a view"
                : about === null
                  ? ""
                  : `, about ${counted(about, "record", "records")}`}
            </option>
          ))}
        </select>
      </label>
      <Failed error={details.error} title="The table cannot be shown" />
      {details.data === undefined ? null : (
        <Attach key={table} database={database} table={details.data} taken={taken} />
      )}
    </>
  );
}

/** The name and the key of the source to be, beside what the table has. */
function Attach(props: {
  readonly database: string;
  readonly table: AttachedTableDetails;
  readonly taken: readonly string[];
}) {
  const { database, table, taken } = props;
  const [name, setName] = useState(() => freeName(table.name, taken));
  const [key, setKey] = useState(table.keys[0] ?? "");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const usable = table.columns.filter(({ holding }) => holding !== null);
  const indexed = new Set(Object.values(table.indexes).map(([first]) => first));
  const attach = useMutation({
    mutationFn: () =>
      service.createSource({
        name,
        ...(key === "" ? {} : { key }),
        attached: { database, table: table.name },
      }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["sources"] });
      await navigate(`/sources/${name}`);
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    attach.mutate();
  };
  return (
    <form className="flex flex-col gap-3" onSubmit={submit}>
      <ul aria-label="Columns" className="columns-2 text-sm">
        {table.columns.map(({ name: column, type, holding }) => (
          <li key={column} className="break-inside-avoid">
            <span className="font-semibold">{column}</span> {type}
            <span className="opacity-80">
              {holding === null ? ", left out" : indexed.has(column) ? ", with an index" : ""}
            </span>
          </li>
        ))}
      </ul>
      <NameAndKey
        name={name}
        onName={setName}
        keyColumn={key}
        onKey={setKey}
        none={table.keys.length === 0 ? "choose one" : null}
        columns={table.keys.length === 0 ? usable.map((column) => column.name) : table.keys}
      />
      <button type="submit" className="btn self-start btn-primary" disabled={attach.isPending}>
        Attach {counted(usable.length, "column", "columns")} as {name || "…"}
      </button>
      <Failed error={attach.error} title="The table was not attached" />
    </form>
  );
}

const FIELDS = [
  ["host", "Host", "127.0.0.1"],
  ["port", "Port", "3306"],
  ["database", "Database there", "levels"],
  ["user", "Account", "reader"],
] as const;

/** Attaches a database with an account that may read it. */
function AttachDatabase({ onDone }: { readonly onDone: (name: string) => void }) {
  const [sent, setSent] = useState({
    ...{ name: "", host: "", port: "3306", database: "", user: "", password: "" },
  });
  const queries = useQueryClient();
  const attach = useMutation({
    mutationFn: () => {
      const { name, port, ...others } = sent;
      return service.attachDatabase(name || sent.database, { ...others, port: Number(port) });
    },
    onSuccess: async ({ name }) => {
      await queries.invalidateQueries({ queryKey: ["databases"] });
      onDone(name);
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    attach.mutate();
  };
  const field = (name: keyof typeof sent, label: string, more = {}) => (
    <label key={name} className="flex flex-col gap-1">
      {label}
      <input
        className="input input-sm w-full"
        value={sent[name]}
        required
        autoComplete="off"
        onChange={(event) => setSent({ ...sent, [name]: event.target.value })}
        {...more}
      />
    </label>
  );
  return (
    <form className="flex flex-col gap-3" onSubmit={submit}>
      <div className="grid grid-cols-2 gap-3 text-sm">
        {FIELDS.map(([name, label, placeholder]) => field(name, label, { placeholder }))}
        {field("password", "Password", { type: "password" })}
        {field("name", "Name for it here", {
          required: false,
          placeholder: sent.database || "levels",
        })}
      </div>
      <button type="submit" className="btn self-start btn-primary" disabled={attach.isPending}>
        Attach the database
      </button>
      <p className="text-sm opacity-80">
        The operator lists the servers that may be attached in ORISMA_ATTACHABLE. An account that
        can write there is refused.
      </p>
      <Failed error={attach.error} title="The database was not attached" />
    </form>
  );
}
