import { naming } from '../naming/index.js';
import type { NameState } from '../naming/index.js';
import type { Zone } from '../plan/index.js';
import { bySubject } from '../section/index.js';
import { isWithin } from '../zones/index.js';
import type { Rr, ZoneTree } from '../zones/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Types whose data name a host by its own name: no alias may stand there. Sources: RFC 2181 10.3, RFC 2782. */
const pointing = ['NS', 'MX', 'SRV'] as const;

/** Servers that records of a zone name and that are not found: aliases, names without an address, delegations without glue. */
export const targetFindings = bySubject({
  name: 'servers by zone',
  reads: [],
  needs: { naming },
  subjects: (_, needed) => needed.naming.parts.zones,
  // Their names may be in any zone.
  rests: (_zone, _, needed) => [needed.naming.parts.zones, needed.naming.compiled],
  look: (zone, _, needed) => targetsOf(needed.naming, zone),
});

function targetsOf(state: NameState, zone: Zone): Finding[] {
  const seen = new Set<string>();
  return state
    .treeOf(zone)
    .ofTypes(pointing)
    .flatMap((rr): Finding[] => {
      const key = `${rr.name} ${rr.type} ${rr.target ?? ''}`;
      if (rr.target === undefined || rr.target === '' || seen.has(key)) return [];
      seen.add(key);
      return targetOf(state, zone, rr, rr.target) ?? [];
    });
}

function targetOf(state: NameState, zone: Zone, rr: Rr, target: string): Finding[] | undefined {
  const holder = holderOf(state, zone, target);
  // Servers of the zone itself are told of as a whole.
  const isOwnServer = rr.type === 'NS' && rr.name === zone.apex;
  if (holder === undefined || (isOwnServer && zone.nameServers.some((each) => each.toLowerCase() === target)))
    return undefined;
  // Of a delegation to a zone that the plan holds, that zone tells.
  if (rr.type === 'NS' && !isOwnServer && state.parts.zones.some(({ apex }) => apex === rr.name)) return undefined;
  const tree = state.treeOf(holder);
  const say = (code: string, severity: 'error' | 'warning', title: string, detail: string) => [
    finding(code, severity, [{ kind: 'zones', id: zone.id }], {
      title: `${zone.name}: ${title}`,
      detail,
      part: `${zone.id} ${rr.name} ${rr.type} ${target}`,
    }),
  ];
  const [answer, other] = [tree.lookUp(target, 'A'), tree.lookUp(target, 'AAAA')];
  if (answer.outcome === 'alias')
    return say(
      'record.target-alias',
      'warning',
      `the ${rr.type} of ${rr.name} leads to ${target}, which is an alias`,
      [
        `The name there must have addresses of its own (${rr.type === 'SRV' ? 'RFC 2782' : 'RFC 2181 10.3'}), and some do not follow an alias.`,
        `Name ${answer.records[0]?.target ?? 'what it stands for'} instead.`,
      ].join(' '),
    );
  if (answer.outcome === 'referral') return rr.type === 'NS' ? unglued(rr, target, tree, say) : undefined;
  return answer.outcome === 'answer' || other.outcome === 'answer'
    ? undefined
    : say(
        'record.target-missing',
        'warning',
        `the ${rr.type} of ${rr.name} leads to ${target}, which has no address`,
        `${holder.name} holds no A or AAAA record of it, so no client gets there. Add one, or name another host.`,
      );
}

/** A delegation to a server below what is delegated, which is found by its glue alone. */
function unglued(
  rr: Rr,
  target: string,
  tree: ZoneTree,
  say: (code: string, severity: 'error', title: string, detail: string) => Finding[],
): Finding[] | undefined {
  const hasGlue = (['A', 'AAAA'] as const).some((type) => tree.setAt(target, type).length > 0);
  if (hasGlue || !isWithin(target, rr.name)) return undefined;
  return say(
    'zone.glue',
    'error',
    `no address for ${target}, the server of ${rr.name}`,
    `It is below ${rr.name} itself, so no resolver can find it without its address beside the delegation. Add A or AAAA records there (RFC 1034 4.2.1).`,
  );
}

/** The zone that answers for a name: the longest of the same side around it. */
function holderOf(state: NameState, { side }: Zone, name: string): Zone | undefined {
  return state.parts.zones
    .filter((each) => each.side === side && isWithin(name, each.apex))
    .sort((a, b) => b.apex.length - a.apex.length)[0];
}
