const TRUE: ReadonlySet<string> = new Set(["true", "t", "yes", "y", "on", "1"]);
const FALSE: ReadonlySet<string> = new Set(["false", "f", "no", "n", "off", "0"]);

/** A yes or no as it is written, in any letter case and with white space around it; else null. */
export function readBoolean(text: string): boolean | null {
  const spelled = text.trim().toLowerCase();
  if (TRUE.has(spelled)) return true;
  return FALSE.has(spelled) ? false : null;
}
