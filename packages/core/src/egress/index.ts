import type { Plan } from '../plan/index.js';
import { proposeApiEndpoints } from './apiEndpoints.js';
import { proposeNeedRules } from './needRules.js';
import { proposeNetworkEgress } from './networkEgress.js';
import { proposeOpenings } from './openings.js';
import { ProposalMaker } from './proposal.js';
import type { EgressProposal } from './proposal.js';

export type { HubRequest } from './hubAndSpoke.js';
export { hubAndSpoke } from './hubAndSpoke.js';
export type { Opening, OpeningParts } from './openings.js';
export { openingsOf } from './openings.js';
export { placeSubnet } from './placeSubnet.js';
export type { EgressProposal, IntentGroup } from './proposal.js';

/** What a plan's intents ask for and is not there yet; filters are made for the clusters that are named. */
export function proposeEgress(plan: Plan, filterClusterIds: readonly string[] = []): EgressProposal {
  const maker = new ProposalMaker(plan);
  proposeNetworkEgress(maker);
  proposeApiEndpoints(maker);
  proposeOpenings(maker, new Set(filterClusterIds));
  proposeNeedRules(maker);
  return { groups: maker.groups, notes: [...new Set(maker.notes)] };
}
