import { fork, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { request as ask, type IncomingMessage, type ServerResponse } from 'node:http';
import { connect } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import type { Duplex } from 'node:stream';

/** Hands requests over to Next's own process, and starts that process again should it ever end. */
export class NextFront {
  readonly #socket = path.join(os.tmpdir(), `batucada-${process.pid}-${randomBytes(4).toString('hex')}.sock`);
  #child: ChildProcess | null = null;
  #closing = false;
  readonly #port: number;

  constructor(port: number) {
    this.#port = port;
  }

  start(): Promise<void> {
    return new Promise((resolve, reject) => {
      const child = fork(path.join(import.meta.dirname, 'nextChild.mjs'), [this.#socket], {
        execArgv: [],
        env: { ...process.env, BATUCADA_PORT: String(this.#port), NEXT_TELEMETRY_DISABLED: '1' },
      });
      this.#child = child;
      // A page may come a little later; a packet may not.
      try {
        if (child.pid) os.setPriority(child.pid, os.constants.priority.PRIORITY_BELOW_NORMAL);
      } catch {
        /* then they share */
      }
      let ready = false;
      child.on('message', () => {
        ready = true;
        resolve();
      });
      child.on('exit', (code) => {
        if (this.#closing) return;
        if (!ready) {
          reject(new Error(`The pages could not be started (exit ${code}).`));
          return;
        }
        console.error(
          `batucada: the page server ended (exit ${code}); starting it again. Lamps and overlays go on.`,
        );
        setTimeout(() => void this.start().catch((e: Error) => console.error(`batucada: ${e.message}`)), 500);
      });
    });
  }

  pass(request: IncomingMessage, response: ServerResponse): void {
    const onward = ask(
      { socketPath: this.#socket, method: request.method, path: request.url, headers: request.headers },
      (answer) => {
        response.writeHead(answer.statusCode ?? 502, answer.headers);
        answer.pipe(response);
      },
    );
    onward.on('error', () => {
      if (!response.headersSent) response.writeHead(503, { 'Retry-After': '1' });
      response.end('The pages are starting. Load again in a moment.');
    });
    response.on('close', () => onward.destroy());
    request.pipe(onward);
  }

  /** Passes an upgrade on as it came, for the development server's own socket. */
  passUpgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const onward = connect(this.#socket, () => {
      const lines = [`${request.method} ${request.url} HTTP/1.1`];
      for (let i = 0; i < request.rawHeaders.length; i += 2)
        lines.push(`${request.rawHeaders[i]}: ${request.rawHeaders[i + 1]}`);
      onward.write(`${lines.join('\r\n')}\r\n\r\n`);
      onward.write(head);
      socket.pipe(onward).pipe(socket);
    });
    onward.on('error', () => socket.destroy());
    socket.on('error', () => onward.destroy());
  }

  close(): void {
    this.#closing = true;
    this.#child?.kill();
    rmSync(this.#socket, { force: true });
  }
}
