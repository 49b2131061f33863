import type { ServerResponse } from 'node:http';

/** Answers with JSON in one piece. */
export function sendJson(response: ServerResponse, status: number, body: unknown): void {
  const text = Buffer.from(`${JSON.stringify(body)}\n`);
  response.writeHead(status, { 'content-type': 'application/json', 'content-length': text.length });
  response.end(text);
}
