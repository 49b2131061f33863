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
  dependsOn: (_zone, _, needed) => [needed.naming.parts.zones, needed.naming.compiled],
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
  const at = { zone: zone.name, name: rr.name, type: rr.type, target };
  const subjects = [{ kind: 'zones', id: zone.id }] as const;
  const part = `${zone.id} ${rr.name} ${rr.type} ${target}`;
  const [answer, other] = [tree.lookUp(target, 'A'), tree.lookUp(target, 'AAAA')];
  if (answer.outcome === 'alias')
    return [
      finding('record.target-alias', 'warning', subjects, { ...at, standsFor: answer.records[0]?.target }, { part }),
    ];
  if (answer.outcome === 'referral')
    return rr.type !== 'NS' || isGlued(rr, target, tree)
      ? undefined
      : [
          finding(
            'zone.glue:delegated',
            'error',
            subjects,
            { zone: zone.name, server: target, apex: rr.name },
            { part },
          ),
        ];
  return answer.outcome === 'answer' || other.outcome === 'answer'
    ? undefined
    : [finding('record.target-missing', 'warning', subjects, { ...at, holder: holder.name }, { part })];
}

/** Whether a delegation to a server below what is delegated can be followed: only with its address beside it. */
function isGlued(rr: Rr, target: string, tree: ZoneTree): boolean {
  return (['A', 'AAAA'] as const).some((type) => tree.setAt(target, type).length > 0) || !isWithin(target, rr.name);
}

/** The zone that answers for a name: the longest of the same side around it. */
function holderOf(state: NameState, { side }: Zone, name: string): Zone | undefined {
  return state.parts.zones
    .filter((each) => each.side === side && isWithin(name, each.apex))
    .sort((a, b) => b.apex.length - a.apex.length)[0];
}
