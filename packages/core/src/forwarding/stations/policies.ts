import type { Failed } from '../../road/index.js';
import type { Host } from '../machine.js';
import { isSame, spotOf } from './trip.js';
import type { Trip } from './trip.js';

/** Holds a call against the network policies of the pod that makes or gets it; answers of what they allow pass. */
export function policiesOf(
  trip: Trip,
  direction: 'ingress' | 'egress',
  pod: Host,
  other: Host | undefined,
): Failed | undefined {
  if (pod.guard === undefined) return undefined;
  const { source, destination, protocol, port } = trip.packet;
  const address = direction === 'ingress' ? source : destination;
  // Pods of the same cluster are known by their labels while they are seen at their own address.
  const isPeer = other?.kind === 'pod' && other.cluster?.id === pod.cluster?.id && isSame(other.address, address);
  const workload = isPeer ? other.guard?.workload : undefined;
  const decision = pod.guard.judge(direction, { workload, address }, protocol, port);
  const policyIds = decision.policies.map(({ id }) => id);
  if (!decision.isAllowed) return trip.failed({ code: 'policy', policyIds, decision }, { spot: spotOf(pod) });
  const [id] = policyIds;
  if (id !== undefined)
    trip.journal.write(spotOf(pod), { event: 'allowed', policy: decision, subject: { kind: 'networkPolicies', id } });
  return undefined;
}
