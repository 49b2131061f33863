import type { EntityOf, Kind } from '../entities.js';
import { allocationsRules } from './allocationsRules.js';
import { attachmentsRules } from './attachmentsRules.js';
import { blocksRules } from './blocksRules.js';
import { clustersRules } from './clustersRules.js';
import { inUseRules } from './inUseRules.js';
import { linksRules } from './linksRules.js';
import { networksRules } from './networksRules.js';
import { nodePoolsRules } from './nodePoolsRules.js';
import { poolsRules } from './poolsRules.js';
import { profilesRules } from './profilesRules.js';
import { rebuildsRules } from './rebuildsRules.js';
import type { KindRules } from './rules.js';
import { runsRules } from './runsRules.js';
import { shapesRules } from './shapesRules.js';
import { sitesRules } from './sitesRules.js';
import { subnetsRules } from './subnetsRules.js';
import { templatesRules } from './templatesRules.js';

const all: { readonly [K in Kind]: KindRules<EntityOf[K]> } = {
  profiles: profilesRules,
  shapes: shapesRules,
  sites: sitesRules,
  networks: networksRules,
  blocks: blocksRules,
  subnets: subnetsRules,
  links: linksRules,
  attachments: attachmentsRules,
  pools: poolsRules,
  inUse: inUseRules,
  templates: templatesRules,
  clusters: clustersRules,
  nodePools: nodePoolsRules,
  allocations: allocationsRules,
  runs: runsRules,
  rebuilds: rebuildsRules,
};

/** The rules of a kind, for any of its entities. */
export function kindRules(kind: Kind): KindRules<EntityOf[Kind]> {
  // The rules of a kind are only ever asked about entities of that kind.
  return all[kind] as KindRules<never> as KindRules<EntityOf[Kind]>;
}
