import { add, applied, ground, testId } from '../../../test/worlds.js';
import { demoPlan } from '../../demo/index.js';
import { exportRows, importRows, planFileSchema, readPlanFile, writePlanFile } from '../../exchange/index.js';
import {
  applyOperations,
  checkField,
  duplicateOf,
  emptyPlan,
  fallbackOf,
  kindOf,
  kindNames,
  kindRules,
  kinds,
  newId,
  removalOf,
  rulesOf,
  uniqueKeyOf,
} from '../index.js';
import type { Entity, Kind, Plan } from '../index.js';
import { referenceFields } from '../references.js';

/** Rows of each kind as a person would paste them into the small plan below. A kind that is left out does not compile. */
const examples: { readonly [K in Kind]: string } = {
  profiles: 'Name,Reserved first,Reserved last,Subnet scope\nours,2,1,zone',
  shapes: 'Name,Profile,vCPU,Memory\nsmall,plain,2,8',
  sites: 'Name,Kind,Profile,Zones\nthere,edge,plain,"zone a; zone b"',
  networks: 'Name,MTU\nn9,1400',
  blocks: 'Network,Prefix\nn1,10.0.0.0/8',
  subnets: 'Name,Network,Site,For,Prefix\ns1,n1,here,endpoint,10.200.0.0/24',
  links: 'Name,Kind,Networks\np1,peering,"n1, n2"',
  attachments: 'Link,Network,Advertises\nhub,n1,10.1.0.0/16 10.2.0.0/16',
  pools: 'Name,Prefix,For\np,172.16.0.0/12,"node, pod"',
  inUse: 'Prefix,Owner,Network\n192.168.0.0/16,Head office,n2',
  templates: 'Name,Fixes\nkiosk,"Pod network: overlay; Pods per node: 30"',
  clusters: 'Name,Site,Network,Nodes now,Nodes at horizon\nnew,here,n1,3,6',
  nodePools: 'Cluster,Name,Now,Most,At horizon\nc,extra,1,2,2',
  allocations: 'Cluster,For,Prefix\nc,node,10.9.0.0/24',
  reservations: 'Name,Cluster,First address,Addresses\nvip,c,10.9.0.10,5',
  prefixSets: 'Name,Prefixes\npartners,198.51.100.0/25 198.51.100.128/26',
  routeTables: 'Name,Network,Main\nmain-2,n2,yes',
  natDevices: 'Name,Subnet,Public addresses\nnat-2,edge,203.0.113.9',
  firewalls: 'Name,Subnet,Stateful,Default\nwall-2,edge,yes,deny',
  routes: 'Route table,Prefix,Next hop,Link\nmain,0.0.0.0/0,link,hub',
  bastions: 'Name,Subnet,Address\ngate,edge,10.8.0.9',
  endpoints: 'Name,Subnet,Address,Serves,Cluster\napi,edge,10.8.0.10,cluster API,c',
  filters: 'Name,Mode,Clusters,Subnets\nnodes,ordered,c,edge',
  filterRules: 'Filter,Direction,Position,Protocol,Ports,Peers\nfence,in,10,tcp,"443, 30000-32767",10.0.0.0/8',
  firewallRules: 'Firewall,Position,Protocol,Ports,Sources,Destinations\nwall,10,udp,123,10.0.0.0/8,192.0.2.0/24',
  needs: 'Name,Host names,Prefixes,Protocol,Ports\ntime,time.example,192.0.2.123/32,udp,123',
  expectations: 'Name,From,To,Expected\napart,pod of c,10.9.0.1 tcp 80,must be refused',
  workloads:
    'Cluster,Namespace,Name,Labels,Replicas,At horizon,Container ports,CPU request\nc,shop,basket,app=basket,2,4,http tcp 8080,500',
  services:
    'Cluster,Namespace,Name,Type,Selector,Ports\nc,shop,basket,NodePort,app=basket,web tcp 80 to http node 30080',
  balancers: 'Name,Subnet,Layer,Run by,Side,Address\nfront,edge,7,appliance,internal,10.8.0.20',
  backends: 'Name,Load balancer,Protocol,Members,Addresses,Port\nold,first,http,addresses,192.0.2.7 192.0.2.8,8080',
  listeners:
    'Name,Load balancer,Protocol,Port,Certificate,Names on it\nweb,first,https,443,web-cert,"a.example, *.b.example"',
  controllers: 'Name,Cluster,Classes\ninside,c,"plain, other"',
  gateways: 'Cluster,Namespace,Name,Class,Listeners\nc,web,front,plain,"a https 443 *.a.example; b http 80"',
  ingressRoutes:
    'Cluster,Namespace,Name,Kind,Hosts,Path,Headers,Sends to\nc,web,shop,HTTPRoute,a.example,/pay,version~^2,"pay 80 weight 9, other/pay-2 80"',
  networkPolicies:
    'Cluster,Namespace,Name,Pods,Allows from\nc,web,inside,"app=web; tier in (a, b)","pods app=x in namespaces all on tcp 80, udp 53; 10.0.0.0/8 except 10.1.0.0/16"',
  referenceGrants:
    'Cluster,Namespace,Name,From,To\nc,shop,from-edge,"HTTPRoute in edge, Gateway in edge","Service web, Secret"',
  zones: 'Name,Domain name,Side,Attached to,Name servers\ninside,b.example,private,"n1, n2",ns1.b.example',
  records: 'Zone,Name,Type,Value,TTL\na.example,*.apps,CNAME,front.a.example,60',
  recordControllers: 'Name,Cluster,Owner mark,Zones,Types\nhand,c,mark-c,a.example,"A, AAAA"',
  resolvers: 'Name,Network,Addresses,Role\nout,n1,10.8.0.54,outbound',
  forwardingRules:
    'Name,Domain name,Networks,Forward to,Outbound resolver\nto-b,b.example,"n1, n2",10.8.0.53,first-resolver',
  certificates: 'Name,Cluster,Namespace,Names on it,Valid from\nweb,c,shop,"a.example, *.a.example",2026-11-01',
  connections: 'Name,Kind,Tunnel,Rendezvous,Key reference\ncoast,tunnels,wireguard,10.8.0.30,keys/wan/coast',
  members: 'Connection,Cluster,Member id,Translated ranges\nfirst join,c,c-one,10.9.0.0/24 as 10.250.0.0/24',
  serviceExports: 'Exported by,Namespace,Service,Exported on\nd in first join,shop,basket,2026-11-01',
  rebuilds: 'Cluster,Changes,Reason,Decided on,Decided by\nc,Family: ipv4 to dual,partners,2026-11-25,Net',
  buildTimes: 'Step,Provider profile,Duration,At once\nfirewall,plain,1200,2',
  confirmations: 'Site,Confirmed,Confirmed by,Confirmed on\nhere,permissions,Net,2026-12-01',
};

const small: Plan = applied(ground(3), [
  ...add('links', { name: 'hub', kind: 'hub', networkIds: [1, 2, 3].map((n) => testId('networks', n)) }),
  ...add('routeTables', { name: 'main', networkId: testId('networks', 1) }),
  ...add('subnets', {
    name: 'edge',
    networkId: testId('networks', 1),
    siteId: testId('sites', 1),
    purpose: 'other',
    prefix: '10.8.0.0/24',
  }),
  ...add('firewalls', { name: 'wall', subnetId: testId('subnets', 1) }),
  ...add('filters', { name: 'fence' }),
  ...add('zones', { name: 'a.example', apex: 'a.example' }),
  ...add('resolvers', { name: 'first-resolver', networkId: testId('networks', 1), addresses: ['10.8.0.53'] }),
  ...add('balancers', { name: 'first', subnetId: testId('subnets', 1), layer: '7' }),
  ...add(
    'clusters',
    { name: 'c', siteId: testId('sites', 1), networkId: testId('networks', 1), nodesNow: 1, nodesHorizon: 1 },
    { name: 'd', siteId: testId('sites', 1), networkId: testId('networks', 1), nodesNow: 1, nodesHorizon: 1 },
  ),
  ...add('connections', { name: 'first join', method: 'tunnels' }),
  ...add('members', { connectionId: testId('connections', 1), clusterId: testId('clusters', 2), memberId: 'd' }),
]);

describe.each(kinds)('%s', (kind) => {
  const { fields, unique, sameRow, since } = kindOf[kind];
  const preview = importRows(small, kind, examples[kind]);
  const taken = applyOperations(small, preview.operations);

  test('an example is imported without a problem, and the same again changes nothing', () => {
    expect(preview.problems).toEqual([]);
    expect(preview.rows).toMatchObject([{ what: 'added' }]);
    expect(taken).toMatchObject({ ok: true });
    if (!taken.ok) return;
    const again = importRows(taken.plan, kind, exportRows(taken.plan, kind, 'csv'));
    expect(again.problems).toEqual([]);
    expect(again.operations).toEqual([]);
    expect(again.absent).toEqual([]);
  });

  test.each(['json', 'yaml'] as const)('rows and plan files come back from %s as they were', (syntax) => {
    expect(taken.ok).toBe(true);
    if (!taken.ok) return;
    const rows = importRows(taken.plan, kind, exportRows(taken.plan, kind, syntax), { syntax });
    expect([rows.problems, rows.operations]).toEqual([[], []]);
    expect(readPlanFile(writePlanFile(taken.plan, syntax))).toEqual({ ok: true, plan: taken.plan });
  });

  test('its inverse, a copy of it and its removal can be applied', () => {
    expect(taken.ok).toBe(true);
    if (!taken.ok) return;
    expect(applied(taken.plan, taken.inverse)).toEqual(small);
    const added = (taken.plan[kind] as readonly Entity[]).find(
      ({ id }) => !(small[kind] as readonly Entity[]).some((other) => other.id === id),
    ) as Entity;
    expect(applyOperations(taken.plan, removalOf(taken.plan, kind, added.id))).toMatchObject({ ok: true });
    if (unique === undefined || unique.by.every((part) => part === 'name'))
      expect(applyOperations(taken.plan, duplicateOf(taken.plan, kind, added.id)).ok).toBe(kind !== 'blocks');
  });

  test('it can be told from others, in words and by a key', () => {
    expect(unique !== undefined || sameRow !== undefined).toBe(true);
    for (const part of [...(unique?.by ?? []), ...(sameRow ?? [])])
      expect(fields).toHaveProperty([typeof part === 'string' ? part : part.familyOf]);
    if (unique?.taken !== undefined) expect(fields).toHaveProperty([unique.taken.field]);
    else if (unique !== undefined) expect(fields).toHaveProperty(['name']);
    expect(kindNames[kind]).toMatch(/^(?:[a-z]|NAT )/);
    expect(taken.ok).toBe(true);
    if (!taken.ok) return;
    const labels = (taken.plan[kind] as readonly Entity[]).map((entity) => kindRules(kind).label(entity, taken.plan));
    expect(labels.every((label) => label.trim() !== '')).toBe(true);
    expect(new Set(labels).size).toBe(labels.length);
  });

  test('each field has its words, and a fallback that its own rule accepts', () => {
    expect(Object.keys(fields).length).toBeGreaterThan(0);
    for (const [field, rule] of Object.entries(rulesOf(kind))) {
      expect([field, rule.label.trim(), rule.help.trim()]).not.toContain('');
      const fallback = fallbackOf(rule);
      if (fallback !== undefined) expect([field, checkField(rule, fallback)]).toEqual([field, undefined]);
      // A field that came later than its kind must have a value in older files.
      if ((rule.since ?? since) > since) expect([field, fallback]).not.toEqual([field, undefined]);
      // Null can be written and read back only where there is a word for it or nothing.
      if ('isOptional' in rule && rule.isOptional && rule.type === 'reference') expect(rule.empty).toBeDefined();
    }
  });

  test('what it refers to stands before it, and can be let go only where that leaves a value', () => {
    for (const { field, rule } of referenceFields(kind)) {
      expect(kinds).toContain(rule.to);
      expect([field, kinds.indexOf(rule.to) <= kinds.indexOf(kind)]).toEqual([field, true]);
      if (rule.onRemoval === 'drop' && rule.type === 'reference') expect(rule.isOptional).toBe(true);
    }
  });

  test('it is in the empty plan, the JSON Schema and the plan file', () => {
    expect(emptyPlan()[kind]).toEqual([]);
    expect(planFileSchema()).toMatchObject({ properties: { [kind]: { type: 'array' } } });
    expect(writePlanFile(emptyPlan(), 'json')).toContain(`"${kind}": []`);
  });
});

test('removing anything of the demo is refused with a reason or leaves a plan that its file reads back', () => {
  const demo = demoPlan();
  let removed = 0;
  for (const kind of kinds) {
    for (const { id } of demo[kind].slice(0, 2)) {
      const result = applyOperations(demo, removalOf(demo, kind, id));
      if (result.ok) {
        removed++;
        expect(readPlanFile(writePlanFile(result.plan, 'json'))).toEqual({ ok: true, plan: result.plan });
        expect(applied(result.plan, result.inverse)).toEqual(demo);
      } else expect(result.problems.every(({ fix }) => fix !== '')).toBe(true);
    }
  }
  expect(removed).toBeGreaterThan(20);
});

test('names are one in any case and with spaces around, places letter by letter', () => {
  const name = (text: string) => uniqueKeyOf('networks', { id: newId(), name: text });
  expect(name(' Core ')).toBe(name('core'));
  const at = (zone: string) =>
    uniqueKeyOf('allocations', { clusterId: 'x', purpose: 'node', zone, prefix: '10.0.0.0/8', turn: 1 });
  expect(at('A')).not.toBe(at('a'));
  expect(uniqueKeyOf('allocations', { clusterId: 'x', purpose: 'node', zone: 'a', turn: 1 })).toBeUndefined();
});
