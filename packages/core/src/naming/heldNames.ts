import type { Forwarding, FlowTrace, Host } from '../forwarding/index.js';
import type { Balancer, Cluster, ForwardingRule, Plan, Resolver, Zone } from '../plan/index.js';
import type { ZoneSet, ZoneTree } from '../zones/index.js';
import { exportReads } from './clusterSet.js';
import { keptReads } from './kept.js';
import type { RecordEdits } from './touched.js';

/** The collections that names are read from, beside what forwarding reads. */
export const namingReads = [
  ...keptReads,
  ...exportReads,
  'records',
  'resolvers',
  'forwardingRules',
  'certificates',
  'networks',
  'subnets',
  'inUse',
  'profiles',
  'listeners',
] as const satisfies readonly (keyof Plan)[];
export type NamingParts = Pick<Plan, (typeof namingReads)[number]>;

/** How names are answered in one network: its private zones and what it sends on. */
export interface View {
  readonly zones: ZoneSet;
  readonly zoneIds: ReadonlyMap<string, string>;
  readonly forwards: readonly ForwardingRule[];
}

/** What questions for names are answered from: the zones of a plan, compiled, and who is where. */
export interface HeldNames {
  readonly parts: NamingParts;
  readonly forwarding: Forwarding;
  /** Records that an edit since the state before took away or brought, by zone; undefined where everything may have changed. */
  readonly edited: RecordEdits | undefined;
  /** The public zones, and those whose chain of delegations begins at a parent outside the plan. */
  readonly public: { readonly set: ZoneSet; readonly byApex: ReadonlyMap<string, Zone> };
  treeOf(zone: Zone): ZoneTree;
  /** What a network answers by itself. */
  viewOf(networkId: string): View;
  /** The exported services that a cluster knows by name. */
  setOf(cluster: Cluster): ZoneSet;
  forwardFor(networkId: string, name: string): ForwardingRule | undefined;
  senderOf(rule: ForwardingRule, networkId: string): Host | undefined;
  resolverAt(address: string): Resolver | undefined;
  balancerNamed(name: string): Balancer | undefined;
  isProviderName(name: string): boolean;
  machineIn(networkId: string): Host | undefined;
  leg(from: Host, address: string): FlowTrace | undefined;
}
