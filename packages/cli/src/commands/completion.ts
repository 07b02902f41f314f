import { Argument, type Command } from "commander";
import { examples, type Context } from "../context/context.js";

/** The scripts that ask `orisma completion words` for what may follow; without an answer shells offer files. */
const SCRIPTS = {
  bash: `_orisma() {
  mapfile -t COMPREPLY < <(orisma completion words -- "\${COMP_WORDS[@]:1:COMP_CWORD}" 2>/dev/null)
}
complete -o default -F _orisma orisma
`,
  zsh: `#compdef orisma
_orisma() {
  local -a found
  found=("\${(@f)$(orisma completion words -- "\${(@)words[2,CURRENT]}" 2>/dev/null)}")
  if [[ -n "$found" ]]; then compadd -- $found; else _files; fi
}
compdef _orisma orisma
`,
  fish: `complete -c orisma -a '(orisma completion words -- (commandline -opc)[2..] (commandline -ct) 2>/dev/null)'
`,
} as const;

type Shell = keyof typeof SCRIPTS;
const SHELLS = Object.keys(SCRIPTS) as readonly Shell[];

/** Milliseconds that names of the service are waited for: nobody waits longer for a key. */
const NAMES_WITHIN_MS = 1_000;

/** `orisma completion`: a script for a shell, and the words that it asks for. */
export function addCompletion(root: Command, context: Context): void {
  const completion = root
    .command("completion")
    .description("Print a script that completes commands, options and names in a shell")
    .addArgument(new Argument("<shell>").choices(SHELLS))
    .addHelpText(
      "after",
      examples(
        "orisma completion bash > ~/.local/share/bash-completion/completions/orisma",
        "orisma completion zsh > ~/.zfunc/_orisma",
        "orisma completion fish > ~/.config/fish/completions/orisma.fish",
      ),
    )
    .action((shell: Shell) => context.print(SCRIPTS[shell]));
  completion
    .command("words", { hidden: true })
    .argument("[words...]")
    .action(async (words: string[]) => {
      const found = await wordsAfter(root, words, context);
      if (found.length > 0) await context.print(`${found.join("\n")}\n`);
    });
}

/** What the last of some words can be completed to, where the others stand before it. */
async function wordsAfter(
  root: Command,
  words: readonly string[],
  context: Context,
): Promise<readonly string[]> {
  const begun = words.at(-1) ?? "";
  let command = root;
  const path: string[] = [];
  let values = 0;
  for (const word of words.slice(0, -1)) {
    const next = visible(command).find((each) => each.name() === word);
    if (next !== undefined && values === 0) {
      command = next;
      path.push(word);
    } else if (!word.startsWith("-")) values++;
  }
  const options = () => command.options.flatMap(({ long, hidden }) => (hidden ? [] : (long ?? [])));
  const known = begun.startsWith("-")
    ? [...options(), "--help"]
    : [
        ...(values === 0 ? visible(command).map((each) => each.name()) : []),
        ...(await namesFor(command, path, values, context)),
      ];
  return known.filter((each) => each.startsWith(begun));
}

function visible(command: Command): readonly Command[] {
  return command.createHelp().visibleCommands(command);
}

/** The names that the service has for the next argument of a command; none where it does not answer. */
async function namesFor(
  command: Command,
  path: readonly string[],
  values: number,
  context: Context,
): Promise<readonly string[]> {
  const all = command.registeredArguments;
  const argument = all[values] ?? (all.at(-1)?.variadic === true ? all.at(-1) : undefined);
  if (argument === undefined) return [];
  if (argument.argChoices !== undefined) return argument.argChoices;
  const kind = argument.name() === "name" ? path[0] : `${argument.name()}s`;
  const within = AbortSignal.timeout(NAMES_WITHIN_MS);
  try {
    const client = context.client();
    const found =
      kind === "listings"
        ? await client.listings(within)
        : kind === "sources"
          ? await client.sources(within)
          : [];
    return found.map(({ name }) => name);
  } catch {
    return [];
  }
}
