import 'reflect-metadata';
import { newId } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { AppModule } from '../src/appModule.js';
import { configureApp } from '../src/configureApp.js';
import { dataSourceOptions } from '../src/db/dataSourceOptions.js';

/** A server on a port of its own, over the tests' database; migrations are run first. */
export async function startTestApp(): Promise<NestExpressApplication> {
  const database = await new DataSource(dataSourceOptions()).initialize();
  await database.runMigrations({ transaction: 'each' });
  await database.destroy();
  const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
  const app = module.createNestApplication<NestExpressApplication>({
    bodyParser: false,
    logger: false,
    forceCloseConnections: true,
  });
  configureApp(app);
  await app.listen(0, '127.0.0.1');
  return app;
}

/** Where the server listens. */
export async function addressOf(app: NestExpressApplication): Promise<string> {
  return (await app.getUrl()).replace('[::1]', '127.0.0.1');
}

/** Requests to the server as the browser would send them. */
export class TestClient {
  readonly clientId = newId();

  constructor(
    private readonly address: string,
    readonly author = 'Tester',
  ) {}

  get(path: string) {
    return request(this.address).get(`/api${path}`);
  }

  delete(path: string) {
    return request(this.address).delete(`/api${path}`);
  }

  post(path: string, body: object) {
    return request(this.address).post(`/api${path}`).send(body);
  }

  /** A plan file, sent as it is. */
  importFile(text: string) {
    return request(this.address).post('/api/plans/import').set('content-type', 'application/json').send(text);
  }

  change(planId: string, baseRevision: number, operations: readonly Operation[], more: object = {}) {
    return this.post(`/plans/${planId}/changes`, {
      baseRevision,
      label: 'a change',
      author: this.author,
      clientId: this.clientId,
      operations,
      ...more,
    });
  }
}
