import { useContext, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useMay } from "../service/session.js";
import { Commands, hasSingleKeys, useCommands } from "./commands.js";
import { Palette } from "./Palette.js";
import { Shortcuts } from "./Shortcuts.js";

/** Listens for keys, and shows the palette and the list of keys. */
export function Keys() {
  const book = useContext(Commands);
  const navigate = useNavigate();
  const [shown, setShown] = useState<"palette" | "shortcuts" | null>(null);
  const isAuthor = useMay("author");
  const pages = [
    ["Listings", "/listings"],
    ["Windows", "/windows"],
    ...(isAuthor ? ([["Sources", "/sources"]] as const) : []),
    ["API", "/reference"],
    ["Access", "/access"],
  ] as const;
  useCommands([
    ...pages.map(([name, path]) => ({ name: `Page: ${name}`, run: () => void navigate(path) })),
    { name: "Keyboard shortcuts", run: () => setShown("shortcuts") },
  ]);
  useEffect(() => {
    const byKey = (event: KeyboardEvent) => {
      const { key, ctrlKey, metaKey, altKey } = event;
      if ((ctrlKey || metaKey) && key.toLowerCase() === "k") {
        event.preventDefault();
        setShown("palette");
        return;
      }
      if (ctrlKey || metaKey || altKey || isTyping(event.target) || !hasSingleKeys()) return;
      if (document.querySelector("dialog[open]") !== null) return;
      if (key === "?") {
        event.preventDefault();
        setShown("shortcuts");
        return;
      }
      const command = book.all().find((each) => each.key === key);
      if (command === undefined) return;
      event.preventDefault();
      command.run();
    };
    document.addEventListener("keydown", byKey);
    return () => document.removeEventListener("keydown", byKey);
  }, [book]);
  if (shown === null) return null;
  const Shown = shown === "palette" ? Palette : Shortcuts;
  // One that was closed a moment ago does not close another that is open by now.
  return <Shown onClose={() => setShown((now) => (now === shown ? null : now))} />;
}

function isTyping(target: EventTarget | null): boolean {
  // What is ticked takes no letters.
  if (target instanceof HTMLInputElement) return !/^(?:checkbox|radio)$/.test(target.type);
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
}
