import { BadRequestException, ValidationPipe } from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import type { ValidationError } from 'class-validator';
import helmet from 'helmet';
import { BODY_LIMIT } from './http/limits.js';
import { loopbackOnly } from './http/loopbackOnly.js';
import { ProblemFilter } from './http/problemFilter.js';
import { dtoOf } from './plans/dto/dtoOf.js';

/** Everything between the socket and the controllers; the tests use the same. */
export function configureApp(app: NestExpressApplication): void {
  app.disable('x-powered-by');
  app.use(loopbackOnly);
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
  app.useBodyParser('json', { limit: BODY_LIMIT });
  app.useGlobalPipes(
    new ValidationPipe({
      whitelist: true,
      forbidNonWhitelisted: true,
      transform: true,
      exceptionFactory: (errors) =>
        new BadRequestException({
          message: 'The request is not as documented at /api/docs.',
          fields: errors.flatMap((error) => fieldsOf(error, '')),
        }),
    }),
  );
  app.useGlobalFilters(new ProblemFilter());
  app.enableShutdownHooks();
  const config = new DocumentBuilder()
    .setTitle('Wide Lattice')
    .setDescription('Plans, changes, evaluation and export.')
    .setVersion('1')
    .build();
  const document = SwaggerModule.createDocument(app, config, { extraModels: Object.values(dtoOf) });
  SwaggerModule.setup('api/docs', app, document, { jsonDocumentUrl: 'api/openapi.json' });
}

function fieldsOf(error: ValidationError, before: string): { field: string; messages: string[] }[] {
  const field = before === '' ? error.property : `${before}.${error.property}`;
  const own = error.constraints === undefined ? [] : [{ field, messages: Object.values(error.constraints) }];
  return [...own, ...(error.children ?? []).flatMap((child) => fieldsOf(child, field))];
}
