import { formatPrefix } from '../address/index.js';
import { freeAddressIn } from '../allocation/index.js';
import { Forwarding } from '../forwarding/index.js';
import { addOperation, byId, newId, setOperation, withFallbacks } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { proposeNeedRules } from './needRules.js';
import { defaultRoute, edgeSubnet } from './networkEgress.js';
import { placeSubnet } from './placeSubnet.js';
import { ProposalMaker } from './proposal.js';
import type { EgressProposal } from './proposal.js';

/** What a hub is asked for. */
export interface HubRequest {
  /** Its network; link, tables and devices are named after it. */
  readonly name: string;
  readonly siteId: string;
  readonly spokeIds: readonly string[];
}

const SHARED_LENGTH = 27;
const BASTION_LENGTH = 28;
/** Prefixes of one spoke that are led through the firewall. */
const MOST_ROUTES = 200;

/**
 * A hub in one action: its network with subnets for firewall, bastion and shared endpoints; the transit hub that attaches the
 * spokes; the default over it, and back; rules for what the spokes' clusters need.
 */
export function hubAndSpoke(plan: Plan, { name, siteId, spokeIds }: HubRequest): EgressProposal {
  const maker = new ProposalMaker(plan);
  const networkId = newId();
  const intent = `hub ${name}`;
  const spokes = spokeIds.flatMap((id) => byId(plan.networks, id) ?? []);
  const names = spokes.map((spoke) => spoke.name).join(', ');
  maker.group(`${name} is a hub with a firewall, a bastion and shared subnets`, () => {
    const network = withFallbacks('networks', {
      id: networkId,
      name,
      egress: 'hub',
      note: `Hub of ${names}`.slice(0, 500),
    });
    maker.add(addOperation('networks', network));
    const wallSubnet = edgeSubnet(maker, network, { siteId, zone: '' }, `${name}-firewall`, 'firewall', intent);
    if (wallSubnet === undefined) return;
    const firewallId = maker.want(
      'firewalls',
      { name: `${name}-firewall`, subnetId: wallSubnet, intent },
      (each) => each.intent === intent,
    );
    defaultRoute(maker, network, '', { nextHop: 'firewall', firewallId }, intent);
    plainSubnet(
      maker,
      networkId,
      siteId,
      { name: `${name}-shared`, purpose: 'endpoint', delegatedTo: '' },
      SHARED_LENGTH,
    );
    const gate = plainSubnet(
      maker,
      networkId,
      siteId,
      { name: `${name}-bastion`, purpose: 'other', delegatedTo: 'bastion' },
      BASTION_LENGTH,
    );
    const address = gate === undefined ? undefined : freeAddressIn(maker.plan, gate.id);
    if (gate !== undefined && address !== undefined)
      maker.want(
        'bastions',
        { name: `${name}-bastion`, subnetId: gate.id, address, intent },
        (each) => each.intent === intent,
      );
  });
  const advertised = maker.plan.subnets.filter((subnet) => subnet.networkId === networkId).map(({ prefix }) => prefix);
  const linkId = newId();
  maker.group(`${names} reach one another and the internet through ${name}`, () => {
    const link = withFallbacks('links', {
      id: linkId,
      name: `${name}-transit`,
      kind: 'hub',
      networkIds: [networkId, ...spokeIds],
    });
    maker.add(
      addOperation('links', link),
      addOperation(
        'attachments',
        withFallbacks('attachments', { id: newId(), linkId, networkId, advertises: [...advertised, '0.0.0.0/0'] }),
      ),
    );
    const mainId = maker.plan.routeTables.find((table) => table.networkId === networkId && table.isMain)?.id ?? '';
    const firewallId = maker.plan.firewalls.find((each) => each.intent === intent)?.id ?? null;
    const forwarding = Forwarding.of(maker.plan);
    for (const spoke of spokes) {
      // Without these the hub would lead from spoke to spoke past its firewall.
      for (const prefix of forwarding.space(spoke.id).advertised.slice(0, MOST_ROUTES))
        maker.want('routes', { routeTableId: mainId, prefix: formatPrefix(prefix), nextHop: 'firewall', firewallId, intent }, (each) => each.routeTableId === mainId && each.prefix === formatPrefix(prefix)); // prettier-ignore
      if (spoke.egress !== 'hub') maker.add(setOperation('networks', spoke.id, { egress: 'hub' }));
      // Spokes take routes from the hub only: what they say to one another passes the firewall.
      maker.add(addOperation('attachments', withFallbacks('attachments', { id: newId(), linkId, networkId: spoke.id, learns: 'listed', learnsFromIds: [networkId] }))); // prettier-ignore
      defaultRoute(
        maker,
        spoke,
        '',
        { nextHop: 'link', linkId, natDeviceId: null, firewallId: null },
        `machines of ${spoke.name} leave through the hub firewall`,
      );
    }
  });
  proposeNeedRules(maker);
  return { groups: maker.groups, notes: maker.notes };
}

function plainSubnet(
  maker: ProposalMaker,
  networkId: string,
  siteId: string,
  of: { readonly name: string; readonly purpose: 'endpoint' | 'other'; readonly delegatedTo: string },
  length: number,
) {
  const prefix = placeSubnet(maker.plan, networkId, siteId, length);
  if (prefix === undefined) {
    maker.notes.push(`${of.name}: no pool has a /${length} free.`);
    return undefined;
  }
  const subnet = withFallbacks('subnets', { id: newId(), networkId, siteId, prefix, wayOut: 'hub', ...of });
  maker.add(addOperation('subnets', subnet));
  return subnet;
}
