import { closeSync, fchmodSync, fsyncSync, openSync, renameSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";

/**
 * Writes a file that only its owner can read, and that is never half written: its content reaches the disk
 * before its name does, and its name before this returns. Throws the system's error.
 */
export function writeDurably(path: string, text: string): void {
  const fresh = `${path}.new`;
  const file = openSync(fresh, "w", 0o600);
  try {
    fchmodSync(file, 0o600);
    writeFileSync(file, text);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  renameDurably(fresh, path);
}

/** Gives a file or folder another name, which has reached the disk when this returns. */
export function renameDurably(from: string, to: string): void {
  renameSync(from, to);
  const folder = openSync(dirname(to), "r");
  try {
    fsyncSync(folder);
  } finally {
    closeSync(folder);
  }
}
