import { Logger } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';

const log = new Logger('Http');

const hostPattern = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** Paths are matched in any case, so they are guarded in any case. */
const isOfApi = (path: string) => /^\/+api(\/|$)/i.test(path);

/** Refuses requests whose Host or Origin is not this machine, or that a browser says another site began: a page elsewhere must not drive a server on loopback. */
export function loopbackOnly(request: Request, response: Response, next: NextFunction): void {
  const { host, origin } = request.headers;
  const isHostGood = host !== undefined && hostPattern.test(host);
  const isOriginGood = origin === undefined || origin === `http://${host}`;
  // A browser says where a request began; "none" is the user's own doing. Links into the interface may come from anywhere.
  const site = request.headers['sec-fetch-site'];
  const isSiteGood = site === undefined || site === 'same-origin' || site === 'none' || !isOfApi(request.path);
  if (isHostGood && isOriginGood && isSiteGood) {
    next();
    return;
  }
  const named = !isHostGood ? `host ${host}` : !isOriginGood ? `origin ${origin}` : `site "${String(site)}"`;
  log.warn(`Refused ${request.method} ${request.path}: ${named}`);
  response.status(403).json({
    statusCode: 403,
    message: `This server answers on its own loopback address only; the request named ${named}.`,
  });
}
