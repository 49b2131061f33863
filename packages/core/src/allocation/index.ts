export { FreeSpace } from './freeSpace.js';
export type { Proposal, ProposedRange, Refusal } from './proposal.js';
export type { ProposalRequest } from './propose.js';
export { propose } from './propose.js';
