import type { Role } from "@orisma/client";
import { InvalidArgumentError, type Command } from "commander";
import {
  collect,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";

const ROLES: readonly Role[] = ["owner", "author", "reader"];

interface NewKeyOptions {
  readonly name: string;
  readonly role: Role;
  readonly listing: string[];
  readonly expires?: string;
  readonly json?: boolean;
}

/** `orisma key` with its own commands. */
export function addKey(command: Command, context: Context): void {
  const key = command.command("key").description("list, make and revoke keys");
  withFormats(key.command("list"))
    .description("list the keys; the keys themselves are not kept")
    .action(async (options: ListFormat) => {
      const keys = await context.client().keys();
      const rows = keys.map((each) => [
        String(each.id),
        each.name,
        each.role,
        each.listings?.join(", ") ?? "all",
        each.createdAt,
        each.lastUsedAt ?? "never",
        each.expiresAt ?? "never",
      ]);
      const headings = ["id", "name", "role", "listings", "made", "last used", "expires"];
      await context.print(listText(options, keys, headings, rows));
    });
  key
    .command("create")
    .description("make a key, which is shown this once")
    .requiredOption("--name <name>", "what the key is for")
    .requiredOption("--role <role>", `one of ${ROLES.join(", ")}`, readRole)
    .option(
      "--listing <listing>",
      "a listing that a reader may read; all unless given",
      collect,
      [],
    )
    .option("--expires <instant>", "from when on it is none any more, such as 2027-01-01T00:00:00Z")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples("orisma key create --name website --role reader --listing works-raised"),
    )
    .action(async (options: NewKeyOptions) => {
      const { name, role, listing: listings, expires } = options;
      const made = await context.client().createKey({
        name,
        role,
        ...(listings.length === 0 ? {} : { listings }),
        ...(expires === undefined ? {} : { expiresAt: expires }),
      });
      await context.print(options.json === true ? toJson(made) : `${made.key}\n`);
    });
  key
    .command("revoke")
    .description("end a key at once")
    .argument("<id>", "its number, as key list shows it", readId)
    .action(async (id: number) => {
      await context.client().revokeKey(id);
      await context.print(`key ${id} is revoked\n`);
    });
  key
    .command("code")
    .description("make a one-time code for signing in to the console")
    .action(async () => {
      await context.print(`${(await context.client().createSignInCode()).code}\n`);
    });
}

function readRole(text: string): Role {
  const role = ROLES.find((each) => each === text);
  if (role !== undefined) return role;
  throw new InvalidArgumentError(`A role is one of ${ROLES.join(", ")}.`);
}

function readId(text: string): number {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("A key has a number, as key list shows it.");
}
