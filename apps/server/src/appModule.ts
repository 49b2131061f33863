import { existsSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import { Module } from '@nestjs/common';
import { ServeStaticModule } from '@nestjs/serve-static';
import { TypeOrmModule } from '@nestjs/typeorm';
import { dataSourceOptions } from './db/dataSourceOptions.js';
import { EvaluationController } from './evaluation/evaluationController.js';
import { ChangesService } from './plans/changesService.js';
import { PlanBodies } from './plans/planBody.js';
import { PlanLog } from './plans/planLog.js';
import { PlansController } from './plans/plansController.js';
import { PlansService } from './plans/plansService.js';
import { PlanStore } from './plans/planStore.js';
import { RemovedPlans } from './plans/removedPlans.js';
import { VersionsService } from './plans/versionsService.js';
import { RevisionFeed } from './plans/revisionFeed.js';
import { StandInsController } from './standins/standInsController.js';
import { StandInsService } from './standins/standInsService.js';
import { WorkPool } from './work/workPool.js';

const webBuild = fileURLToPath(new URL('../../web/dist', import.meta.url));

/** The built interface; absent in server tests, which need none. */
const web = existsSync(webBuild)
  ? [
      ServeStaticModule.forRoot({
        rootPath: webBuild,
        // A missing chunk must be a 404, not the page.
        exclude: ['/api/{*rest}', '/assets/{*rest}'],
        serveStaticOptions: {
          index: false,
          setHeaders: (response: ServerResponse, path: string) => {
            response.setHeader(
              'cache-control',
              path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
            );
          },
        },
      }),
    ]
  : [];

@Module({
  imports: [TypeOrmModule.forRootAsync({ useFactory: () => ({ ...dataSourceOptions(), retryAttempts: 3 }) }), ...web],
  controllers: [PlansController, EvaluationController, StandInsController],
  providers: [
    PlanStore,
    PlanBodies,
    PlanLog,
    PlansService,
    RemovedPlans,
    ChangesService,
    VersionsService,
    RevisionFeed,
    WorkPool,
    StandInsService,
  ],
})
export class AppModule {}
