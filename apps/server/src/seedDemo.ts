import 'reflect-metadata';
import { demoPlan } from '@wide-lattice/core/demo';
import dataSource from './db/dataSource.js';
import { PlanRow } from './db/rows/index.js';
import { PlanLog } from './plans/planLog.js';
import { PlansService } from './plans/plansService.js';
import { PlanStore } from './plans/planStore.js';
import { WorkPool } from './work/workPool.js';

// Loads the demo once: a database that holds any plan is left as it is.
await dataSource.initialize();
if ((await dataSource.manager.count(PlanRow)) === 0) {
  const log = new PlanLog(dataSource);
  await new PlansService(dataSource, new PlanStore(dataSource), new WorkPool(), log).start(demoPlan());
  console.log('Loaded the demo plan.');
}
await dataSource.destroy();
