import type { NextFunction, Request, Response } from 'express';

const hostPattern = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** Refuses requests whose Host or Origin is not this machine: a page elsewhere must not drive a server on loopback. */
export function loopbackOnly(request: Request, response: Response, next: NextFunction): void {
  const { host, origin } = request.headers;
  const isHostGood = host !== undefined && hostPattern.test(host);
  const isOriginGood = origin === undefined || origin === `http://${host}`;
  if (isHostGood && isOriginGood) {
    next();
    return;
  }
  response.status(403).json({
    statusCode: 403,
    message: `This server answers on its own loopback address only; the request named ${isHostGood ? `origin ${origin}` : `host ${host}`}.`,
  });
}
