import { containsAddress } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import type { ResolvedTarget, Forwarding, Host } from '../forwarding/index.js';
import { rangeOf } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { HOST_PORTS } from '../road/index.js';
import type { Failed } from '../road/index.js';
import type { Judged } from './answers.js';

/** A range of a cluster that its nodes take for their own; those of services and overlay pods never let anything out. */
export interface OwnRange {
  readonly prefix: Prefix;
  readonly name: string;
  readonly purpose: string;
  readonly allocationId: string;
  readonly isHiding: boolean;
}

/** The service and pod ranges of a cluster. */
export function ownRangesOf(forwarding: Forwarding, { id, podMode }: Cluster): OwnRange[] {
  return forwarding
    .rangesOf(id)
    .filter(({ purpose }) => purpose === 'service' || purpose === 'pod')
    .map((range) => ({
      prefix: rangeOf(range),
      name: range.prefix,
      purpose: range.purpose,
      allocationId: range.id,
      isHiding: range.purpose === 'service' || podMode === 'overlay',
    }));
}

/** The verdict of what a cluster's own range hides: it never leaves the nodes. */
export function hidden({ id }: Cluster, { name, purpose, allocationId }: OwnRange, from: Host, target: Host): Judged {
  const why: Failed = {
    failure: { code: 'shadowed', clusterId: id, allocationId, purpose, prefix: name },
    spot: { kind: from.kind, name: from.label },
    packet: {
      source: from.address,
      destination: target.address,
      protocol: 'any',
      port: 0,
      clientPorts: HOST_PORTS,
      isAnswer: false,
    },
    tunnelOf: undefined,
  };
  return { verdict: 'broken', why, lists: [], refusing: [] };
}

/** What lies in a range of the cluster's own is looked for inside it, so such targets are told apart by the cluster. */
export function insideKey(cluster: Cluster, own: readonly OwnRange[], aims: readonly ResolvedTarget[]): string {
  return aims.some(({ address }) => own.some(({ prefix }) => containsAddress(prefix, address))) ? cluster.id : '';
}
