import { contains, isSamePrefix, overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, grouped, rangeOf } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { isSameList, oncePerChange } from '../section/index.js';
import type { ForwardingState, Ground } from './forwardingState.js';
import type { LinkMember, LinkTable } from './linkTable.js';
import type { NetworkSpace } from './networkSpace.js';

const devices = ['bastions', 'endpoints', 'balancers'] as const;

/**
 * What decides about packets within a network: its space, which is asked by address, who holds single addresses of its
 * subnets, and their filters. Routes have no part in it but where they lead its own destinations astray: what it holds is closer
 * than any other one. An edit that met nothing of the network but what its links bring leaves all the rest.
 */
export function groundOf(
  forwarding: ForwardingState,
  networkId: string,
  last: Ground | undefined,
  isUnmet: boolean,
): Ground {
  const { space, compiled, astray } = forwarding.routes.inNetwork(networkId);
  if (last !== undefined && isUnmet && isSameList(last.routing, compiled)) return last;
  const of = last !== undefined && isUnmet ? last.of : restsOf(forwarding, networkId, space);
  const isSame = last !== undefined && isSameList(last.of, of);
  return {
    mark: isSame ? last.mark : {},
    space,
    of,
    routing: compiled,
    astray: isSame && last.space === space && leadsAsBefore(last, compiled, space) ? last.astray : astray(),
  };
}

function restsOf(forwarding: ForwardingState, networkId: string, space: NetworkSpace): readonly unknown[] {
  const { parts } = forwarding;
  const inNetwork = ({ subnetId }: { readonly subnetId: string }) =>
    byId(parts.subnets, subnetId)?.networkId === networkId;
  return [
    byId(parts.networks, networkId),
    parts.sites,
    parts.profiles,
    ...(grouped(parts.routeTables, 'networkId').get(networkId) ?? []),
    ...devices.flatMap((kind): unknown[] => parts[kind].filter(inNetwork)),
    ...parts.reservations.filter(({ clusterId }) => byId(parts.clusters, clusterId)?.networkId === networkId),
    ...parts.inUse.filter((each) => each.networkId === null),
    ...forwarding.lists.at(...space.parts.subnets.map(({ id }) => id), ...space.sharing),
  ];
}

/** Whether tables and links lead the same destinations of a network astray as before: they are the same, or differ in what is far from it. */
function leadsAsBefore({ routing, astray }: Ground, compiled: readonly unknown[], space: NetworkSpace): boolean {
  return (
    routing.length === compiled.length &&
    compiled.every((each, at) => {
      const was = routing[at];
      return was === each || (isLinkTable(was) && isLinkTable(each) && isFar(was, each, astray, space));
    })
  );
}

function isLinkTable(compiled: unknown): compiled is LinkTable {
  return typeof compiled === 'object' && compiled !== null && 'members' in compiled;
}

/** Whether what members advertise differs only in prefixes that lie in nothing of the network, and led nothing of it astray. */
function isFar(was: LinkTable, is: LinkTable, astray: readonly Prefix[], space: NetworkSpace): boolean {
  const changed = changedOn(was, is);
  if (changed === undefined) return false;
  return (
    changed.gone.every((prefix) => !astray.some((each) => isSamePrefix(each, prefix))) &&
    changed.come.every((prefix) => !space.advertised.some((own) => contains(own, prefix)))
  );
}

interface Changed {
  readonly gone: readonly Prefix[];
  readonly come: readonly Prefix[];
}

/** What members of a link advertise more and less than before; undefined where its members are others. Equal prefixes are one object. */
const changedOn = oncePerChange((was: LinkTable, is: LinkTable): Changed | undefined =>
  was.link === is.link ? changedBetweenMembers(was.members, is.members) : undefined,
);

function changedBetweenMembers(had: readonly LinkMember[], has: readonly LinkMember[]): Changed | undefined {
  if (had.length !== has.length) return undefined;
  const gone: Prefix[] = [];
  const come: Prefix[] = [];
  for (const [at, member] of has.entries()) {
    const last = had[at];
    if (last?.networkId !== member.networkId || last.attachment !== member.attachment) return undefined;
    if (isSameList(last.advertised, member.advertised)) continue;
    const [before, after] = [new Set(last.advertised), new Set(member.advertised)];
    gone.push(...last.advertised.filter((prefix) => !after.has(prefix)));
    come.push(...member.advertised.filter((prefix) => !before.has(prefix)));
  }
  return { gone, come };
}

/** What decides about packets among a cluster’s own machines: its network and who else is where they are, or the whole state where they are led astray. */
export function groundUnder(forwarding: ForwardingState, { id, networkId }: Cluster): readonly unknown[] {
  const { mark, space, astray } = forwarding.groundOf(networkId);
  return isLedAstray(forwarding, { id }, astray)
    ? [forwarding]
    : [mark, ...forwarding.rangesOf(id).flatMap((range) => space.around(rangeOf(range)))];
}

/** Whether some of these destinations are those of a cluster. */
export function isLedAstray(
  forwarding: ForwardingState,
  { id }: Pick<Cluster, 'id'>,
  astray: readonly Prefix[],
): boolean {
  return (
    astray.length > 0 &&
    forwarding.rangesOf(id).some((range) => astray.some((prefix) => overlaps(prefix, rangeOf(range))))
  );
}
