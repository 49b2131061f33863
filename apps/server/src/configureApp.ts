import { Reflector } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import type { NextFunction, Request, Response } from 'express';
import helmet from 'helmet';
import { BodyPipe } from './http/bodyPipe.js';
import { jsonBytes, readJson } from './http/jsonBody.js';
import { QueryGuard } from './http/known.js';
import { loopbackOnly } from './http/loopbackOnly.js';
import { ProblemFilter } from './http/problemFilter.js';
import { dtoOf } from './plans/dto/dtoOf.js';

/** Everything between the socket and the controllers; the tests use the same. */
export function configureApp(app: NestExpressApplication): void {
  app.disable('x-powered-by');
  app.use(
    helmet({
      // The server speaks plain HTTP on loopback.
      strictTransportSecurity: false,
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'self'"],
          'base-uri': ["'self'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
          'img-src': ["'self'", 'data:'],
          'object-src': ["'none'"],
          'script-src': ["'self'"],
          // Sizes and positions of drawn blocks are inline styles.
          'style-src': ["'self'", "'unsafe-inline'"],
          'worker-src': ["'self'"],
        },
      },
    }),
  );
  app.use(loopbackOnly);
  // A stream of events would wait in the compressor; plans bring their own compressed form, made once for each revision.
  app.use(compression({ filter: (request, response) => !isStream(response) && compression.filter(request, response) }));
  app.use('/api', neverStored);
  app.use(jsonBytes);
  app.use(readJson);
  app.useGlobalGuards(new QueryGuard(app.get(Reflector)));
  app.useGlobalPipes(new BodyPipe());
  app.useGlobalFilters(new ProblemFilter());
  app.enableShutdownHooks();
  // Longer than clients keep a connection: one that the server closes as a request comes over it would lose that request.
  app.getHttpServer().keepAliveTimeout = 75_000;
  const config = new DocumentBuilder()
    .setTitle('Wide Lattice')
    .setDescription('Plans, changes, evaluation and export.')
    .setVersion('1')
    .build();
  const document = SwaggerModule.createDocument(app, config, { extraModels: Object.values(dtoOf) });
  SwaggerModule.setup('api/docs', app, document, { jsonDocumentUrl: 'api/openapi.json' });
}

const isStream = (response: Response) => String(response.getHeader('content-type')).startsWith('text/event-stream');

/** Plans are nobody's but their user's: neither the browser nor anything between keeps them. */
function neverStored(_request: Request, response: Response, next: NextFunction): void {
  response.setHeader('cache-control', 'no-store');
  next();
}
