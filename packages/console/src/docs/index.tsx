import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { CallPage } from "./CallPage.js";
import { callsByTag, type Call, type Description } from "./description.js";

/** Every call of the service that the reader may make: read, filled in and sent. */
export default function DocsPage() {
  const description = useQuery({
    queryKey: ["description"],
    queryFn: async ({ signal }) => (await service.description(signal)) as unknown as Description,
  });
  useEffect(() => {
    document.title = "API – Orisma";
  }, []);
  return (
    <Frame>
      {description.isError ? (
        <Message kind="error" title="The description could not be read">
          {description.error.message}
        </Message>
      ) : description.data === undefined ? (
        <div className="skeleton h-96 w-full" />
      ) : (
        <Calls description={description.data} />
      )}
    </Frame>
  );
}

function Calls({ description }: { readonly description: Description }) {
  const { hash } = useLocation();
  const groups = callsByTag(description);
  const all = [...groups.values()].flat();
  const wanted = hash.slice(1);
  const call =
    all.find(({ operationId, method, path }) => {
      const words = `${method} ${path}`;
      // A browser writes the space in its own way.
      return [operationId, words, encodeURI(words)].includes(wanted);
    }) ?? all[0];
  return (
    <div className="grid items-start gap-x-12 gap-y-8 lg:grid-cols-[20rem_1fr]">
      <nav
        aria-label="Calls"
        className="max-h-72 overflow-y-auto lg:sticky lg:top-4 lg:max-h-[calc(100vh-8rem)]"
      >
        {[...groups].map(([tag, calls]) => (
          <section key={tag} className="mb-4">
            <h2 className="font-sentence text-lg">{tag}</h2>
            <ul>
              {calls.map((each) => (
                <li key={each.operationId}>
                  <CallLink call={each} isCurrent={each === call} />
                </li>
              ))}
            </ul>
          </section>
        ))}
      </nav>
      {call === undefined ? null : (
        <CallPage key={call.operationId} call={call} schemas={description.components.schemas} />
      )}
    </div>
  );
}

function intoView(link: HTMLAnchorElement | null): void {
  link?.scrollIntoView({ block: "nearest" });
}

function CallLink({ call, isCurrent }: { readonly call: Call; readonly isCurrent: boolean }) {
  const { summary, tags, operationId, path } = call;
  // The calls of a listing begin with its title, which their heading says.
  const isOfListing = /^\/v1\/listings\/[^{]/.test(path);
  const words = isOfListing ? summary.replace(/^[^:]*: /, "") : summary;
  return (
    <Link
      ref={isCurrent ? intoView : undefined}
      to={{ hash: operationId }}
      aria-current={isCurrent ? "page" : undefined}
      title={`${call.method.toUpperCase()} ${call.path}`}
      className="block border-l-4 border-transparent py-0.5 pl-2 text-sm hover:border-base-300 aria-[current=page]:border-accent aria-[current=page]:font-semibold"
    >
      {tags[0] === undefined ? summary : words}
    </Link>
  );
}
