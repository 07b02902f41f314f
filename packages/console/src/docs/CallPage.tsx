import { Copy } from "lucide-react";
import { useState, type ReactNode, type SubmitEvent } from "react";
import { Link, useSearchParams } from "react-router";
import { csrfToken } from "../service/service.js";
import { addressOf, commandOf, type Call, type ParameterObject } from "./description.js";

/** Characters of an answer that are shown at most. */
const MAX_SHOWN = 20_000;

/** What came back. */
interface Came {
  readonly status: string;
  readonly ms: number;
  readonly headers: readonly (readonly [string, string])[];
  readonly body: string;
}

/** One call: what it takes, a form to try it, and what came. */
export function CallPage(props: {
  readonly call: Call;
  readonly schemas: Readonly<Record<string, unknown>>;
}) {
  const { call, schemas } = props;
  const { parameters = [], requestBody, responses } = call;
  const document = requestBody?.content["application/json"];
  const isFile = requestBody !== undefined && document === undefined;
  const [search] = useSearchParams();
  const [values, setValues] = useState(() => valuesFrom(search, parameters));
  const [body, setBody] = useState(document === undefined ? "" : pretty(document.example ?? {}));
  const [came, setCame] = useState<Came | null>(null);
  const [isSending, setSending] = useState(false);
  const address = addressOf(call, values);
  const hasBody = document !== undefined;
  const command = commandOf(call.method, window.location.origin + address, hasBody ? body : null);
  const send = async (event: SubmitEvent) => {
    event.preventDefault();
    setSending(true);
    setCame(await sent(call.method, address, hasBody ? body : null));
    setSending(false);
  };
  const answer = Object.entries(responses).find(([status]) => status.startsWith("2"));
  const content = answer?.[1].content?.["application/json"];
  return (
    <article className="min-w-0">
      <h1 className="font-sentence text-2xl">{call.summary}</h1>
      <p className="mt-1 font-mono break-all">
        <span className="font-semibold">{call.method.toUpperCase()}</span> {call.path}
      </p>
      <p className="mt-1 text-sm opacity-75">
        {call["x-role"] === undefined ? "No key is needed." : `For the role ${call["x-role"]}.`}
      </p>
      <ListingLink call={call} address={address} />
      <form onSubmit={(event) => void send(event)} className="mt-6">
        {parameters.length === 0 ? null : (
          <div className="grid gap-x-8 gap-y-4 md:grid-cols-2">
            {parameters.map((parameter) => (
              <Field
                key={parameter.name}
                parameter={parameter}
                value={values[parameter.name] ?? ""}
                onChange={(value) => setValues({ ...values, [parameter.name]: value })}
              />
            ))}
          </div>
        )}
        {hasBody ? (
          <label className="mt-4 flex flex-col gap-1">
            <span>Request body</span>
            <textarea
              className="textarea w-full font-mono text-sm"
              rows={Math.min(18, body.split("\n").length + 1)}
              value={body}
              spellCheck={false}
              onChange={(event) => setBody(event.target.value)}
            />
          </label>
        ) : null}
        <div className="mt-4 flex items-center gap-4">
          <button type="submit" className="btn btn-primary" disabled={isSending || isFile}>
            Send
          </button>
          {isFile ? (
            <span className="text-sm opacity-75">
              The body is a file: use the command line, or the page of the source.
            </span>
          ) : null}
        </div>
      </form>
      <Block title="Command" text={command} />
      {came === null ? null : <Answer came={came} />}
      {content?.example === undefined || came !== null ? null : (
        <Block title="Example response" text={pretty(content.example)} />
      )}
      {content?.schema === undefined ? null : (
        <details className="mt-6">
          <summary className="cursor-pointer">Response schema</summary>
          <Block title="JSON Schema" text={pretty(withShapes(content.schema, schemas))} />
        </details>
      )}
    </article>
  );
}

/** What an address says of the fields of a call, such as that of a listing's page. */
function valuesFrom(
  search: URLSearchParams,
  parameters: readonly ParameterObject[],
): Readonly<Record<string, string>> {
  const sent = parameters.map(({ name }) => [name, search.getAll(name).join(",")]);
  return Object.fromEntries(sent.filter(([, value]) => value !== "")) as Record<string, string>;
}

/** From the records of a listing to its page, with what is filled in. */
function ListingLink(props: { readonly call: Call; readonly address: string }) {
  const { call, address } = props;
  const [, name] = /^\/v1\/listings\/([^{}/]+)\/records$/.exec(call.path) ?? [];
  if (name === undefined || call.method !== "get") return null;
  return (
    <p className="mt-1">
      <Link
        className="link"
        to={{ pathname: `/listings/${name}`, search: address.split("?")[1] ?? "" }}
      >
        Open the listing {decodeURIComponent(name)}
      </Link>
    </p>
  );
}

function Field(props: {
  readonly parameter: ParameterObject;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const { parameter, value, onChange } = props;
  const { name, description, required, example, schema } = parameter;
  const choices = schema.enum ?? (schema.type === "boolean" ? ["yes", "no"] : undefined);
  const isWanted = required === true;
  const fallback = schema.default === undefined ? "" : textOf(schema.default);
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={`field-${name}`} className="font-mono text-sm font-semibold">
        {name}
        {isWanted ? <span className="font-sans font-normal"> (wanted)</span> : null}
      </label>
      {choices === undefined ? (
        <input
          id={`field-${name}`}
          className="input w-full font-mono"
          value={value}
          required={isWanted}
          placeholder={example ?? fallback}
          list={schema.items?.enum === undefined ? undefined : `list-${name}`}
          spellCheck={false}
          autoComplete="off"
          onChange={(event) => onChange(event.target.value)}
          aria-describedby={`about-${name}`}
        />
      ) : (
        <select
          id={`field-${name}`}
          className="select w-full font-mono"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          aria-describedby={`about-${name}`}
        >
          <option value="">{fallback === "" ? "not sent" : `not sent (${fallback})`}</option>
          {choices.map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
        </select>
      )}
      {schema.items?.enum === undefined ? null : (
        <datalist id={`list-${name}`}>
          {schema.items.enum.map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
        </datalist>
      )}
      <span id={`about-${name}`} className="text-sm opacity-75">
        {description}
      </span>
    </div>
  );
}

function Answer({ came }: { readonly came: Came }) {
  const { status, ms, headers, body } = came;
  const cut = body.length > MAX_SHOWN ? `${body.slice(0, MAX_SHOWN)}\n…` : body;
  return (
    <section className="mt-6" aria-live="polite" aria-label="Response">
      <h2 className="font-sentence text-lg">
        {status}, {ms} ms
      </h2>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-4 font-mono text-sm">
        {headers.map(([name, value]) => (
          <Pair key={name} name={name}>
            {value}
          </Pair>
        ))}
      </dl>
      <Block title="Body" text={cut} />
    </section>
  );
}

function Pair({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <>
      <dt className="opacity-75">{name}</dt>
      <dd className="break-all">{children}</dd>
    </>
  );
}

/** Text to read and to copy. */
function Block({ title, text }: { readonly title: string; readonly text: string }) {
  return (
    <section className="mt-4" aria-label={title}>
      <h2 className="flex items-center gap-2 text-sm">
        {title}
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Copy: ${title}`}
          onClick={() => void navigator.clipboard.writeText(text)}
        >
          <Copy className="size-3.5" aria-hidden />
        </button>
      </h2>
      <pre
        tabIndex={0}
        className="max-h-[32rem] overflow-auto border-l-4 border-base-300 bg-base-200 p-3 text-sm"
      >
        {text}
      </pre>
    </section>
  );
}

const TOLD = ["content-type", "cache-control", "etag", "link", "retry-after"];

async function sent(method: string, address: string, body: string | null): Promise<Came> {
  const begun = performance.now();
  const csrf = csrfToken();
  try {
    const response = await fetch(address, {
      method: method.toUpperCase(),
      headers: {
        Accept: "application/json",
        ...(method === "get" || csrf === null ? {} : { "X-CSRF-Token": csrf }),
        ...(body === null ? {} : { "Content-Type": "application/json" }),
      },
      ...(body === null ? {} : { body }),
    });
    const text = await response.text();
    return {
      status: `${response.status} ${response.statusText}`.trim(),
      ms: Math.round(performance.now() - begun),
      headers: TOLD.flatMap((name) => {
        const value = response.headers.get(name);
        return value === null ? [] : [[name, value] as const];
      }),
      body: prettyText(text),
    };
  } catch (error) {
    const ms = Math.round(performance.now() - begun);
    return { status: "No response", ms, headers: [], body: String(error) };
  }
}

function prettyText(text: string): string {
  try {
    return pretty(JSON.parse(text));
  } catch {
    return text;
  }
}

function pretty(value: unknown): string {
  return JSON.stringify(value, null, 2);
}

function textOf(value: unknown): string {
  return typeof value === "string" ? value : JSON.stringify(value);
}

/** A shape with the ones that it names put in their places; one inside itself stays a name. */
function withShapes(
  value: unknown,
  schemas: Readonly<Record<string, unknown>>,
  within: readonly string[] = [],
): unknown {
  if (Array.isArray(value)) return value.map((each) => withShapes(each, schemas, within));
  if (typeof value !== "object" || value === null) return value;
  const { $ref } = value as { readonly $ref?: unknown };
  if (typeof $ref === "string") {
    const name = $ref.replace("#/components/schemas/", "");
    if (within.includes(name) || within.length > 3) return name;
    return withShapes(schemas[name], schemas, [...within, name]);
  }
  return Object.fromEntries(
    Object.entries(value).map(([key, each]) => [key, withShapes(each, schemas, within)]),
  );
}
