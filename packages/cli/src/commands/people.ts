import type { PersonDescription, Role } from "@orisma/client";
import type { Command } from "commander";
import {
  addDelete,
  addListing,
  collect,
  examples,
  listText,
  toJson,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { readRole } from "./keys.js";

interface RightsOptions {
  readonly role?: Role;
  readonly group: readonly string[];
  readonly listing: readonly string[];
  readonly claim: readonly string[];
  readonly json?: boolean;
}

/** `orisma people`: those who sign in with a name and a password. */
export function addPeople(command: Command, context: Context): void {
  const people = command
    .command("people")
    .helpCommand(false)
    .description("List, add, change and delete people who sign in with a password")
    .addHelpText("after", examples("orisma people"));
  addListing(people)
    .description("List the people (the default)")
    .addHelpText("after", examples("orisma people"))
    .action(async (_words: readonly string[], options: ListFormat) => {
      const all = await context.client().people();
      const headings = ["name", "role", "groups", "claims", "listings", "last signed in (UTC)"];
      const rows = all.map(({ name, role, groups, claims, listings, lastSignInAt }) => [
        name,
        role,
        groups.join(", "),
        claimsText(claims),
        listings?.join(", ") ?? "all",
        lastSignInAt?.slice(0, 16).replace("T", " ") ?? "never",
      ]);
      await context.print(listText(options, all, headings, rows));
    });
  withRights(people.command("create"))
    .description("Add a person; the password is made here and shown only once")
    .argument("<name>")
    .addHelpText("after", examples('orisma people create "Maud Harrow" --group crew'))
    .action(async (name: string, options: RightsOptions) => {
      const { role = "reader", group, listing, claim } = options;
      const created = await context.client().createPerson({
        ...{ name, role, groups: [...group], claims: readClaims(claim) },
        ...(listing.length === 0 ? {} : { listings: [...listing] }),
      });
      const text = `${personText(created)}\npassword  ${created.password ?? ""}\n`;
      await context.print(options.json === true ? toJson(created) : text);
    });
  withRights(people.command("change"))
    .description("Change what a person may; what is not given stays as it is")
    .argument("<name>")
    .option("--no-groups", "none of the groups before")
    .option("--no-claims", "none of the claims before")
    .option("--all-listings", "not kept to some listings any more")
    .addHelpText("after", examples('orisma people change "Maud Harrow" --role author'))
    .action(
      async (
        name: string,
        options: RightsOptions & {
          readonly groups: boolean;
          readonly claims: boolean;
          readonly allListings?: boolean;
        },
      ) => {
        const client = context.client();
        const before = (await client.people()).find((each) => isSame(each.name, name));
        if (before === undefined) throw new UsageError(`there is no person “${name}”`);
        const groups = options.group.length > 0 || !options.groups ? options.group : before.groups;
        const isOther = options.claim.length > 0 || !options.claims;
        const claims = isOther ? readClaims(options.claim) : before.claims;
        const role = options.role ?? before.role;
        const kept = options.listing.length > 0 ? options.listing : before.listings;
        const listings = options.allListings === true || role !== "reader" ? null : kept;
        const changed = await client.changePerson(name, {
          ...{ role, groups: [...groups], claims },
          ...(listings === null ? {} : { listings: [...listings] }),
        });
        await context.print(options.json === true ? toJson(changed) : `${personText(changed)}\n`);
      },
    );
  people
    .command("password")
    .description("Make a fresh password for a person, shown only once; their sessions end")
    .argument("<name>")
    .addHelpText("after", examples('orisma people password "Maud Harrow"'))
    .action(async (name: string) => {
      await context.print(`${(await context.client().resetPassword(name)).password}\n`);
    });
  addDelete(people, "Delete a person, whose sessions end at once", context, (name) =>
    context.client().deletePerson(name),
  );
}

function withRights(command: Command): Command {
  return command
    .option("--role <role>", "reader, author or owner", readRole)
    .option("--group <group>", "a group; repeat for more", collect, [])
    .option(
      "--claim <name=value>",
      "what caller('NAME') stands for in fixed filters; repeat for more",
      collect,
      [],
    )
    .option("--listing <listing>", "a listing that a reader is kept to; repeat", collect, [])
    .option("--json", "print the service's answer");
}

/** Claims as they are given: `lock=Tansy Lock`, once for each value. */
function readClaims(given: readonly string[]): Record<string, string[]> {
  const claims: Record<string, string[]> = {};
  for (const each of given) {
    const [, name, value] = /^([^=]+)=(.+)$/s.exec(each) ?? [];
    if (name === undefined || value === undefined) {
      throw new UsageError(`“${each}” is not a claim: write --claim NAME=VALUE`);
    }
    claims[name] = [...(claims[name] ?? []), value];
  }
  return claims;
}

function claimsText(claims: PersonDescription["claims"]): string {
  return Object.entries(claims)
    .map(([name, values]) => `${name}=${values.join("|")}`)
    .join(", ");
}

function personText({ name, role, groups, claims, listings }: PersonDescription): string {
  const of = groups.length === 0 ? "" : `, of ${groups.join(", ")}`;
  const known = claimsText(claims);
  return `${name}: ${role}${of}${known === "" ? "" : `, ${known}`}${listings === null ? "" : `, only ${listings.join(", ")}`}`;
}

function isSame(one: string, other: string): boolean {
  return one.toLowerCase() === other.trim().toLowerCase();
}
