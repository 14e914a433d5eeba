import { fork, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { request as ask, type IncomingMessage, type ServerResponse } from 'node:http';
import { connect } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import type { Duplex } from 'node:stream';
import { tellStarting } from './starting';

const AGAIN_MS = [500, 1000, 2000, 5000];

/** Hands requests over to Next's own process, and starts that process again should it ever end. */
export class NextFront {
  readonly #socket = path.join(os.tmpdir(), `batucada-${process.pid}-${randomBytes(4).toString('hex')}.sock`);
  #child: ChildProcess | null = null;
  #closing = false;
  readonly #port: number;
  readonly #script: string;

  /** @param script - what serves the pages, in a process of its own */
  constructor(port: number, script = path.join(import.meta.dirname, 'nextChild.mjs')) {
    this.#port = port;
    this.#script = script;
  }

  /** Upgrades are its own only while it is developed: a socket that nobody answers stays open for ever. */
  readonly upgrades = process.env.NODE_ENV !== 'production';

  /** @throws Error when it ends before it was ever ready */
  async start(): Promise<void> {
    const ended = this.#start();
    await Promise.race([
      ended.ready,
      ended.gone.then((code) => {
        throw new Error(`The pages could not be started (exit ${code}).`);
      }),
    ]);
    void this.#keep(ended.gone);
  }
  /** However often it ends, it is started again: each time a little later while it does not come up. */
  async #keep(gone: Promise<number | null>): Promise<void> {
    for (let tries = 0; ;) {
      const code = await gone;
      if (this.#closing) return;
      const wait = AGAIN_MS[Math.min(tries, AGAIN_MS.length - 1)]!;
      console.error(
        `batucada: the page server ended (exit ${code}); it is started again. Lamps and overlays go on.`,
      );
      await new Promise((done) => setTimeout(done, wait));
      if (this.#closing) return;
      const next = this.#start();
      gone = next.gone;
      tries = (await Promise.race([next.ready.then(() => true), gone.then(() => false)])) ? 0 : tries + 1;
    }
  }
  #start(): { readonly ready: Promise<void>; readonly gone: Promise<number | null> } {
    const child = fork(this.#script, [this.#socket], {
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
    return {
      ready: new Promise((resolve) => child.once('message', () => resolve())),
      gone: new Promise((resolve) => {
        child.once('exit', (code) => resolve(code));
        child.once('error', () => resolve(null));
      }),
    };
  }

  pass(request: IncomingMessage, response: ServerResponse): void {
    const onward = ask(
      { socketPath: this.#socket, method: request.method, path: request.url, headers: request.headers },
      (answer) => {
        response.writeHead(answer.statusCode ?? 502, answer.headers);
        answer.pipe(response);
        // What is cut off there is cut off here: half a page that never ends helps nobody.
        answer.on('close', () => {
          if (!answer.complete) response.destroy();
        });
      },
    );
    onward.on('error', () => {
      if (response.headersSent) {
        response.destroy();
        return;
      }
      tellStarting(request, response);
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
    onward.on('close', () => socket.destroy());
    socket.on('error', () => onward.destroy());
    socket.on('close', () => onward.destroy());
  }

  close(): void {
    this.#closing = true;
    this.#child?.kill();
    rmSync(this.#socket, { force: true });
  }
}
