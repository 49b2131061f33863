import type { IncomingMessage } from 'node:http';
import { raw } from 'express';
import type { NextFunction, Request, Response } from 'express';
import { inTurns } from '../work/inTurns.js';
import { jsonInSteps } from './jsonInSteps.js';
import { BODY_LIMIT } from './limits.js';
import { UPLOAD_PATH } from './upload.js';

/** JSON of a request as bytes, plain or compressed; a file that is sent is read where it is asked for. */
export const jsonBytes = raw({ limit: BODY_LIMIT, type: isJson });

function isJson({ url = '', headers }: IncomingMessage): boolean {
  return url.split('?')[0] !== UPLOAD_PATH && /^application\/json\b/i.test(headers['content-type'] ?? '');
}

/** Reads the JSON that came as bytes; other requests are answered while a long one is read. */
export function readJson(request: Request, _response: Response, next: NextFunction): void {
  const { body } = request as { body: unknown };
  if (!Buffer.isBuffer(body)) {
    next();
    return;
  }
  const charset = /;\s*charset="?([^\s;"]+)/i.exec(request.headers['content-type'] ?? '')?.[1] ?? 'utf-8';
  if (!/^(utf-8|us-ascii)$/i.test(charset)) {
    next(problem('charset.unsupported'));
    return;
  }
  // A body of nothing is one that says nothing, as where none is sent.
  if (body.length === 0) {
    request.body = {};
    next();
    return;
  }
  inTurns(jsonInSteps(body)).then(
    (read) => {
      request.body = read;
      next(typeof read === 'object' && read !== null ? undefined : problem('entity.parse.failed'));
    },
    (error: unknown) => next(error instanceof SyntaxError ? problem('entity.parse.failed') : error),
  );
}

/** A mistake in a body, by the name that the body reader gives it. */
function problem(type: string): Error {
  return Object.assign(new Error(type), { type });
}
