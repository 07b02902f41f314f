import type { PersonDescription, Role } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { whenText } from "../dates/words.js";
import { Failed, Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { ListingPicker, RolePicker } from "./rights.js";

/** The people who sign in with a name and a password. */
export function People() {
  const people = useQuery({
    queryKey: ["people"],
    queryFn: ({ signal }) => service.people(signal),
  });
  const [fresh, setFresh] = useState<{ readonly name: string; readonly password: string }>();
  return (
    <section aria-labelledby="people" className="mt-8 max-w-4xl">
      <h2 id="people" className="font-sentence text-xl">
        People
      </h2>
      <Failed error={people.error} title="The people cannot be listed" />
      {people.data?.length === 0 ? (
        <p className="mt-1">Nobody signs in with a password yet.</p>
      ) : (
        <ul aria-label="People" className="mt-2">
          {(people.data ?? []).map((person) => (
            <OnePerson
              key={person.name}
              person={person}
              onPassword={(password) => setFresh({ name: person.name, password })}
            />
          ))}
        </ul>
      )}
      {fresh === undefined ? null : (
        <div className="mt-3">
          <Message kind="info" title={`The password of ${fresh.name}, shown this once`}>
            <code className="break-all">{fresh.password}</code>
          </Message>
        </div>
      )}
      <NewPerson onMade={(name, password) => setFresh({ name, password })} />
    </section>
  );
}

function OnePerson(props: {
  readonly person: PersonDescription;
  readonly onPassword: (password: string) => void;
}) {
  const { person, onPassword } = props;
  const { name, role, groups, claims, listings, isOfIssuer, lastSignInAt } = person;
  const queries = useQueryClient();
  const [isLeaving, setLeaving] = useState(false);
  const reset = useMutation({
    mutationFn: () => service.resetPassword(name),
    onSuccess: ({ password }) => onPassword(password),
  });
  const remove = useMutation({
    mutationFn: () => service.deletePerson(name),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["people"] }),
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-4 border-t border-base-300 py-2">
      <span className="font-semibold">{name}</span>
      <span>
        {role}
        {groups.length === 0 ? "" : `, of ${groups.join(", ")}`}
        {Object.entries(claims).map(([claim, values]) => `, ${claim} ${values.join(" or ")}`)}
        {listings === null ? "" : `, only ${listings.join(", ")}`}
      </span>
      <span className="opacity-80">
        {lastSignInAt === null ? "never signed in" : `signed in ${whenText(lastSignInAt)}`}
      </span>
      {isOfIssuer ? (
        <span className="opacity-80">without a password here</span>
      ) : (
        <button
          type="button"
          className="link"
          aria-label={`New password for ${name}`}
          disabled={reset.isPending}
          onClick={() => reset.mutate()}
        >
          New password
        </button>
      )}
      {isLeaving ? (
        <>
          <button
            type="button"
            autoFocus
            className="btn btn-error btn-sm"
            disabled={remove.isPending}
            onClick={() => remove.mutate()}
          >
            Delete “{name}”
          </button>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setLeaving(false)}>
            Cancel
          </button>
        </>
      ) : (
        <button
          type="button"
          className="link"
          aria-label={`Delete ${name}`}
          onClick={() => setLeaving(true)}
        >
          Delete
        </button>
      )}
      <Failed error={reset.error ?? remove.error} title="Nothing was changed" />
    </li>
  );
}

function NewPerson({ onMade }: { readonly onMade: (name: string, password: string) => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [groups, setGroups] = useState("");
  const [claims, setClaims] = useState("");
  const [role, setRole] = useState<Role>("reader");
  const [picked, setPicked] = useState<readonly string[]>([]);
  const create = useMutation({
    mutationFn: () =>
      service.createPerson({
        name,
        role,
        groups: listed(groups),
        claims: claimsIn(claims),
        ...(role === "reader" && picked.length > 0 ? { listings: [...picked] } : {}),
      }),
    onSuccess: async (made) => {
      onMade(made.name, made.password ?? "");
      setName("");
      await queries.invalidateQueries({ queryKey: ["people"] });
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    create.mutate();
  };
  return (
    <form onSubmit={submit} className="mt-4 grid max-w-3xl gap-4 sm:grid-cols-2">
      <label className="flex flex-col font-medium">
        Name of the person
        <input
          className="input w-full font-normal"
          value={name}
          maxLength={64}
          required
          autoComplete="off"
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <label className="flex flex-col font-medium">
        Groups, with commas
        <input
          className="input w-full font-normal"
          value={groups}
          autoComplete="off"
          placeholder="crew, office"
          onChange={(event) => setGroups(event.target.value)}
        />
      </label>
      <label className="flex flex-col font-medium">
        Claims, with commas
        <input
          className="input w-full font-normal"
          value={claims}
          autoComplete="off"
          placeholder="lock=Tansy Lock"
          pattern="(\s*[\w.\-]+=[^,=]+(,|$))*"
          title="Names and values, such as lock=Tansy Lock: a fixed filter compares with caller('lock')"
          onChange={(event) => setClaims(event.target.value)}
        />
      </label>
      <RolePicker name="person-role" role={role} onRole={setRole} />
      {role === "reader" ? <ListingPicker picked={picked} onPick={setPicked} /> : null}
      <button
        type="submit"
        className="btn btn-primary justify-self-start"
        disabled={create.isPending}
      >
        Add the person
      </button>
      <div className="sm:col-span-2">
        <Failed error={create.error} title="The person was not added" />
      </div>
    </form>
  );
}

/** The parts of a text between its commas. */
function listed(text: string): string[] {
  return text.split(",").flatMap((each) => (each.trim() === "" ? [] : [each.trim()]));
}

/** Claims as they are typed: `lock=Tansy Lock`, a name again for one more value. */
function claimsIn(text: string): Record<string, string[]> {
  const claims: Record<string, string[]> = {};
  for (const each of listed(text)) {
    const [name = "", value = ""] = each.split("=", 2).map((part) => part.trim());
    claims[name] = [...(claims[name] ?? []), value];
  }
  return claims;
}
