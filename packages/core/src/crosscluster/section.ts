import { forwarding } from '../forwarding/index.js';
import { exportReads } from '../naming/index.js';
import { section } from '../section/index.js';
import { ConnectionState } from './pairs.js';
import { SetMatrix } from './setMatrix.js';

/** The collections that joins are read from, beside what forwarding reads. */
const connectionReads = [...exportReads, 'sites', 'networkPolicies'] as const;

/**
 * The ways between joined clusters, made as they are asked for; after an edit of exports they are the same, after one
 * of rules or members those that rested on it are made anew.
 */
export const connected = section({
  name: 'joins',
  reads: ['connections', 'members', 'clusters', 'sites', 'workloads', 'networkPolicies'],
  needs: { forwarding },
  build: (parts, needed) => new ConnectionState(parts, needed.forwarding),
  follow: (last, parts, needed) => new ConnectionState(parts, needed.forwarding, last.value),
});

/** Clusters by exported services. */
export const setMatrix = section({
  name: 'exporting clusters',
  reads: connectionReads,
  needs: { connected },
  build: (parts, needed) => SetMatrix.of(parts, needed.connected),
  follow: (last, parts, needed) => {
    // What network policies say of the pods of a service goes into its cells.
    if (parts.workloads !== last.parts.workloads || parts.networkPolicies !== last.parts.networkPolicies)
      return undefined;
    const changed =
      needed.connected === last.needed.connected
        ? new Map<string, ReadonlySet<string>>()
        : needed.connected.changedSince(last.needed.connected);
    return changed === undefined ? undefined : last.value.after(parts, needed.connected, changed);
  },
});
