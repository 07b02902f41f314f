import type { Role } from "@orisma/client";
import { InvalidArgumentError, type Command } from "commander";
import {
  addListing,
  collect,
  examples,
  listText,
  toJson,
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

/** `orisma keys`. */
export function addKeys(command: Command, context: Context): void {
  const group = command
    .command("keys")
    .helpCommand(false)
    .description("List, create, rotate and revoke API keys")
    .addHelpText(
      "after",
      examples(
        "orisma keys",
        "orisma keys create --name website --role reader --listing works-raised",
      ),
    );
  addListing(group)
    .description("List the keys, without their secrets (the default)")
    .addHelpText("after", examples("orisma keys"))
    .action(async (_words: readonly string[], options: ListFormat) => {
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
      const headings = ["id", "name", "role", "listings", "created", "last used", "expires"];
      await context.print(listText(options, keys, headings, rows));
    });
  group
    .command("create")
    .description("Create a key; it is shown only once")
    .requiredOption("--name <name>", "what the key is for")
    .requiredOption("--role <role>", `one of ${ROLES.join(", ")}`, readRole)
    .option("--listing <listing>", "a listing that a reader may read; by default all", collect, [])
    .option("--expires <instant>", "when it expires, such as 2027-01-01T00:00:00Z")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples("orisma keys create --name website --role reader --listing works-raised"),
    )
    .action(async (options: NewKeyOptions) => {
      const { name, role, listing: listings, expires } = options;
      const created = await context.client().createKey({
        name,
        role,
        ...(listings.length === 0 ? {} : { listings }),
        ...(expires === undefined ? {} : { expiresAt: expires }),
      });
      await context.print(options.json === true ? toJson(created) : `${created.key}\n`);
    });
  group
    .command("rotate")
    .description("Replace a key by another with the same rights; it is shown only once")
    .argument("<id>", "its number, as orisma keys shows it", readId)
    .option(
      "--overlap <minutes>",
      "minutes for which the key before is still valid; 0 by default",
      readMinutes,
    )
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma keys rotate 3 --overlap 60"))
    .action(async (id: number, options: { overlap?: number; json?: boolean }) => {
      const created = await context.client().rotateKey(id, options.overlap ?? 0);
      await context.print(options.json === true ? toJson(created) : `${created.key}\n`);
    });
  group
    .command("revoke")
    .description("Revoke a key at once")
    .argument("<id>", "its number, as orisma keys shows it", readId)
    .addHelpText("after", examples("orisma keys revoke 3"))
    .action(async (id: number) => {
      await context.client().revokeKey(id);
      await context.print(`key ${id} is revoked\n`);
    });
  group
    .command("code")
    .description("Create a one-time code for signing in to the console")
    .addHelpText("after", examples("orisma keys code"))
    .action(async () => {
      await context.print(`${(await context.client().createSignInCode()).code}\n`);
    });
}

/** A role; a usage error for another word. */
export function readRole(text: string): Role {
  const role = ROLES.find((each) => each === text);
  if (role !== undefined) return role;
  throw new InvalidArgumentError(`A role is one of ${ROLES.join(", ")}.`);
}

function readMinutes(text: string): number {
  if (/^\d{1,5}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("A whole number of minutes, 43200 at most.");
}

function readId(text: string): number {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("A key has a number, as orisma keys shows it.");
}
