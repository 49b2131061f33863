import { byId } from '../collection.js';
import type { RecordController } from './recordControllers.js';
import type { KindRules } from './rules.js';

export const recordControllersRules: KindRules<RecordController> = {
  label: ({ name }) => name,
  about: ({ clusterId }, plan) => `record controller of ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  headings: { mark: 'ownerMark' },
};
