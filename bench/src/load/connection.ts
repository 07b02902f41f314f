import { connect, type Socket } from "node:net";

/** What came back: its status, 0 for none, and after how many seconds to ask again, if it says so. */
export interface Response {
  readonly status: number;
  readonly retryS: number;
}

const LOST: Response = { status: 0, retryS: 0 };

/**
 * One connection that is kept, with one request after the other. It reads no more of an answer than where it
 * ends: whoever makes the load takes the time of the same cores as what is measured.
 */
export class Connection {
  readonly #host: string;
  readonly #port: number;
  #socket: Socket | null = null;
  #received: Buffer = Buffer.alloc(0);
  #done: ((response: Response) => void) | null = null;

  constructor(url: string) {
    const { hostname, port } = new URL(url);
    this.#host = hostname;
    this.#port = Number(port);
  }

  request(path: string, key: string): Promise<Response> {
    this.#socket ??= this.#opened();
    const socket = this.#socket;
    return new Promise((resolve) => {
      this.#done = resolve;
      socket.write(
        `GET ${path} HTTP/1.1\r\nHost: ${this.#host}:${this.#port}\r\nAuthorization: Bearer ${key}\r\n\r\n`,
      );
    });
  }

  close(): void {
    this.#socket?.destroy();
  }

  #opened(): Socket {
    const socket = connect(this.#port, this.#host).setNoDelay(true);
    socket.on("data", (bytes) => this.#take(bytes));
    socket.on("error", () => undefined);
    // The next request opens another one.
    socket.on("close", () => this.#end(LOST));
    return socket;
  }

  #take(bytes: Buffer): void {
    this.#received = this.#received.length === 0 ? bytes : Buffer.concat([this.#received, bytes]);
    const headEnd = this.#received.indexOf("\r\n\r\n");
    if (headEnd < 0) return;
    const head = this.#received.toString("latin1", 0, headEnd);
    const length = /^content-length: (\d+)/im.exec(head)?.[1];
    // A body without a length comes in chunks, of which the last one is empty.
    const isWhole =
      length === undefined
        ? this.#received.subarray(headEnd + 2).includes("\r\n0\r\n\r\n")
        : this.#received.length >= headEnd + 4 + Number(length);
    if (!isWhole) return;
    const retryS = Number(/^retry-after: (\d+)/im.exec(head)?.[1] ?? 0);
    const response = { status: Number(head.slice(9, 12)), retryS };
    if (/^connection: close/im.test(head)) this.#socket?.destroy();
    else this.#end(response, false);
    this.#done?.(response);
    this.#done = null;
  }

  #end(response: Response, isClosed = true): void {
    this.#received = Buffer.alloc(0);
    if (!isClosed) return;
    this.#socket = null;
    this.#done?.(response);
    this.#done = null;
  }
}
