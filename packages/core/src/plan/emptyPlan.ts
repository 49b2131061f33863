import { defaultSettings } from './checkField.js';
import type { Plan, PlanSettings } from './entities.js';

/** A plan that holds nothing yet. */
export function emptyPlan(settings: Partial<PlanSettings> = {}): Plan {
  return {
    settings: { ...defaultSettings, ...settings },
    profiles: [],
    shapes: [],
    sites: [],
    networks: [],
    blocks: [],
    subnets: [],
    links: [],
    attachments: [],
    pools: [],
    inUse: [],
    templates: [],
    clusters: [],
    nodePools: [],
    allocations: [],
    runs: [],
    rebuilds: [],
  };
}
