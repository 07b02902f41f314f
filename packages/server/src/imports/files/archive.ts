import { fault } from "@orisma/core/internal";
import { SaxesParser, type SaxesTagNS } from "saxes";
import { openPromise, type Entry, type ZipFile } from "yauzl";
import { problemOf } from "../../http/index.js";
import { broken } from "./table.js";

/** Entries of an archive at most, and bytes that one may unpack to. */
const MAX_ENTRIES = 20_000;
const LARGEST_ENTRY = 8 * 1024 ** 3;
/** Beyond so many bytes an entry that unpacks to this many times its size is a trap. */
const SUSPICIOUS_BYTES = 16 * 1024 ** 2;
const SUSPICIOUS_RATIO = 200;

/** An archive of XML documents (ISO/IEC 21320-1), read without unpacking it to disk. */
export class Archive {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
  ) {}

  static async open(path: string): Promise<Archive> {
    const zip = await openPromise(path, { lazyEntries: true, autoClose: false }).catch(damaged);
    const entries = new Map<string, Entry>();
    try {
      for await (const entry of zip.eachEntry()) {
        entries.set(entry.fileName, entry);
        if (entries.size > MAX_ENTRIES) throw tooLarge("it holds too many parts");
      }
    } catch (error) {
      zip.close();
      return damaged(error);
    }
    return new Archive(zip, entries);
  }

  has(name: string): boolean {
    return this.entries.has(name);
  }

  close(): void {
    this.zip.close();
  }

  /** The bytes of one entry, unpacked; never more than the archive's own table says. */
  async *bytes(name: string, onBytes: (share: number) => void): AsyncGenerator<Buffer> {
    const entry = this.entries.get(name);
    if (entry === undefined) throw broken(`the workbook lacks its part ${name}`);
    const { uncompressedSize: size, compressedSize: packed } = entry;
    if (entry.isEncrypted()) throw broken("the workbook has a password: save it without one");
    const isTrap = size > SUSPICIOUS_BYTES && size > packed * SUSPICIOUS_RATIO;
    if (size > LARGEST_ENTRY || isTrap) {
      throw tooLarge(`its part ${name} of ${packed} bytes would unpack to ${size}`);
    }
    const stream = await this.zip.openReadStreamPromise(entry).catch(damaged);
    let read = 0;
    try {
      for await (const chunk of stream) {
        read += (chunk as Buffer).length;
        yield chunk as Buffer;
        onBytes(size === 0 ? 1 : read / size);
      }
    } catch (error) {
      damaged(error);
    } finally {
      stream.destroy();
    }
  }
}

function tooLarge(what: string) {
  const reason = `the workbook is not read: ${what}`;
  const most = "a workbook whose parts unpack to less than 200 times their size";
  return problemOf([fault("file.limit", { reason, most })]);
}

function tooDeep(most: string) {
  const reason = "the workbook is not read: its XML is not as programs for sheets write it";
  return problemOf([fault("file.limit", { reason, most })]);
}

/** Elements inside one another at most: sheets have a dozen, and a parser is slow with very many. */
const MAX_DEPTH = 100;
const MAX_ATTRIBUTES = 500;

function damaged(error: unknown): never {
  if (error instanceof Error && "problem" in error) throw error;
  throw broken(
    `the workbook is damaged or not whole: ${error instanceof Error ? error.message : "unreadable"}`,
  );
}

/** The namespaces of one vocabulary (Namespaces in XML 1.0): those of others are passed over. */
export type Namespaces = ReadonlySet<string>;

/** Called with the elements of a vocabulary; names are without their prefix. */
export interface XmlHandlers {
  /** `parent` is the name of the element around it; empty for the outermost. */
  open?(name: string, attributes: Readonly<Record<string, string>>, parent: string): void;
  text?(text: string): void;
  close?(name: string, parent: string): void;
}

/**
 * Reads one document of an archive, piece by piece: after each piece the caller may take what
 * the handlers gathered. Elements and attributes of other namespaces are none of the vocabulary,
 * whatever their names, and what is inside such an element is passed over with it. Entities of the
 * document's own making are not expanded.
 */
export async function* readXml(
  archive: Archive,
  name: string,
  namespaces: Namespaces,
  handlers: XmlHandlers,
  onBytes: (share: number) => void = () => undefined,
): AsyncGenerator<void> {
  const parser = new SaxesParser({ position: false, xmlns: true });
  const failure: { error?: Error } = {};
  parser.on("error", (error) => (failure.error ??= error));
  const around: string[] = [];
  let passedOver = 0;
  let depth = 0;
  // Elements without any namespace are taken for the vocabulary's: some programs leave it out.
  const isKnown = (uri: string) => uri === "" || namespaces.has(uri);
  let attributesSeen = 0;
  parser.on("attribute", () => {
    if (++attributesSeen > MAX_ATTRIBUTES)
      throw tooDeep(`${MAX_ATTRIBUTES} attributes in one element`);
  });
  parser.on("opentag", ({ local, uri, attributes }: SaxesTagNS) => {
    attributesSeen = 0;
    if (++depth > MAX_DEPTH) throw tooDeep(`${MAX_DEPTH} elements inside one another`);
    if (passedOver > 0 || !isKnown(uri)) {
      passedOver++;
      return;
    }
    const found: Record<string, string> = {};
    for (const each of Object.values(attributes)) {
      if (isKnown(each.uri)) found[each.local] = each.value;
    }
    handlers.open?.(local, found, around.at(-1) ?? "");
    around.push(local);
  });
  parser.on("text", (text) => {
    if (passedOver === 0) handlers.text?.(text);
  });
  parser.on("closetag", ({ local }: SaxesTagNS) => {
    depth--;
    if (passedOver > 0) {
      passedOver--;
      return;
    }
    around.pop();
    handlers.close?.(local, around.at(-1) ?? "");
  });
  const decoder = new TextDecoder("utf-8", { fatal: true });
  const write = (chunk: Buffer | null) => {
    try {
      const text = chunk === null ? decoder.decode() : decoder.decode(chunk, { stream: true });
      parser.write(text);
      if (chunk === null) parser.close();
    } catch (error) {
      failure.error ??= error instanceof Error ? error : new Error(String(error));
    }
    if (failure.error === undefined) return;
    if ("problem" in failure.error) throw failure.error;
    throw broken(`the workbook's part ${name} is not well-formed: ${failure.error.message}`);
  };
  for await (const chunk of archive.bytes(name, onBytes)) {
    write(chunk);
    yield;
  }
  write(null);
  yield;
}

/** Reads one document whole. */
export async function readWholeXml(
  archive: Archive,
  name: string,
  namespaces: Namespaces,
  handlers: XmlHandlers,
): Promise<void> {
  const pieces = readXml(archive, name, namespaces, handlers);
  while ((await pieces.next()).done !== true);
}
