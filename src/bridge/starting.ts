import type { IncomingMessage, ServerResponse } from 'node:http';

/** What is not there yet is there in a moment. */
export function tellStarting(_: IncomingMessage, response: ServerResponse): void {
  response.writeHead(503, { 'Retry-After': '1', 'Content-Type': 'text/plain; charset=utf-8' });
  response.end('The pages are starting. Load again in a moment.');
}
