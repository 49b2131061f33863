import { formatAddress } from '@wide-lattice/core/address';
import { Forwarding, hostAt, trace } from '@wide-lattice/core/forwarding';
import type { FlowTrace, Host } from '@wide-lattice/core/forwarding';
import { readPlace, readTarget } from '@wide-lattice/core/plan';
import type { Place, Plan, Question, Target } from '@wide-lattice/core/plan';
import { Agent } from './agentProcess.js';
import type { Coverage } from './coverage.js';
import { key, MAC, modelOf } from './model.js';
import type { Model } from './model.js';
import { run } from './shell.js';
import { lookUpOf } from '@wide-lattice/core/road';
import type { RoadEvent } from '@wide-lattice/core/road';
import { formatFault } from '@wide-lattice/core/english';

/** What came of building a plan and sending packets through it. */
export interface Proof {
  /** Flows that were sent, and how many of them were to pass. */
  readonly sent: number;
  readonly passing: number;
  /** Where the kernel and the plan's answer differ, in words. */
  readonly disagreements: readonly string[];
  /** Differences that were gone when the flow was sent again: a busy machine, and no verdict. */
  readonly noise: readonly string[];
  /** What could not be built or compared, in words. */
  readonly notes: readonly string[];
}

type Sent = Pick<Proof, 'sent' | 'passing' | 'disagreements'>;

interface AskedFlow {
  readonly words: string;
  readonly flow: FlowTrace;
  readonly bytes: number;
  /** The largest packet on the way there: one byte more must not arrive. */
  readonly isTooLarge: boolean;
  /** Of one that is too large whether its sender hears of it; undefined where no message is sent to it. */
  readonly isHeard?: boolean;
}

/** Bytes of the packet that every question is tried with. */
const SMALL = 200;
/** A difference counts when it is the same this many times, through namespaces made anew. */
const SENDINGS = 3;

/**
 * The flows that a plan is proved by, with the machines that they are between and what is left out: of all questions at most
 * `most`, spread evenly, or those first that meet what few flows of the coverage have met.
 */
export function askedOf(plan: Plan, most: number, coverage?: Coverage, questions = questionsOf(plan)) {
  const forwarding = Forwarding.of(plan);
  const machines = new Map<string, Host>();
  const internet = new Set<string>();
  const asked: AskedFlow[] = [];
  const notes = new Set<string>();
  const chosen = coverage === undefined ? spread(questions, most) : rareFirst(forwarding, questions, most, coverage);
  for (const { from, to, words, bytes = SMALL } of chosen) {
    const answer = trace(forwarding, { from, to, bytes });
    const [flow] = answer.flows;
    if (flow === undefined || !isComparable(flow, to)) continue;
    if (flow.back.some(isUnderOwnPublic)) {
      notes.add(OWN_PUBLIC);
      continue;
    }
    if ([...flow.forth, ...flow.back].some(isOverConnection)) {
      notes.add(CONNECTIONS);
      continue;
    }
    // Of several zones the flow that decides is sent, from where it starts.
    const sender = flow.from;
    if ([sender, flow.aim.host].some((host) => host !== undefined && isElsewhere(machines, host))) {
      notes.add(ONE_ADDRESS);
      continue;
    }
    const target = flow.aim.host ?? heldInPlan(forwarding, plan, flow);
    for (const host of [sender, target])
      if (host !== undefined && host.kind !== 'internet') {
        machines.set(key(host), host);
        if (host.node !== undefined) machines.set(key(host.node), host.node);
      }
    if (target === undefined) internet.add(formatAddress(flow.aim.address));
    asked.push({ words, flow, bytes, isTooLarge: false });
    if (bytes !== SMALL) continue;
    const room = flow.forth.at(-1)?.room ?? 0;
    const own = plan.networks.find(({ id }) => id === sender.networkId)?.mtu ?? 0;
    // A node cuts up itself what its own overlay device does not carry, so nothing is learned from a larger packet there.
    const isOverDevice = sender.kind === 'node' && flow.forth.some(({ event }) => event === 'wrapped');
    if (flow.verdict === 'pass' && flow.aim.protocol === 'udp' && room < own && !isOverDevice) {
      asked.push({ words: `${words}, ${room} bytes`, flow, bytes: room, isTooLarge: false });
      const larger = room + 1;
      asked.push({
        words: `${words}, ${larger} bytes`,
        flow,
        bytes: larger,
        isTooLarge: true,
        ...heard(forwarding, { from, to, bytes: larger }),
      });
    }
  }
  return { asked, machines: [...machines.values()], internet: [...internet], notes: [...notes] };
}

/** Whether a packet goes through the place in the middle of a link, whose routes know no way back: routes that name the link alone. */
function isOverMiddle(event: RoadEvent): boolean {
  const hop = lookUpOf(event)?.found.row?.hop;
  return hop?.kind === 'link' && hop.toNetworkId === undefined;
}

/** What the plan says of the message about a packet that does not fit. */
function heard(forwarding: Forwarding, question: Question): Pick<AskedFlow, 'isHeard'> {
  const [flow] = trace(forwarding, question).flows;
  if (flow === undefined || flow.forth.some(isOverMiddle)) return {};
  const { failure } = flow.failed ?? {};
  const message = failure?.code === 'too-big' ? failure.message : undefined;
  return message === undefined ? {} : { isHeard: message.isHeard };
}

/** A question to send. */
export interface Asking {
  readonly from: Place;
  readonly to: Target;
  readonly words: string;
  /** Size of the packets, where the question has one of its own. */
  readonly bytes?: number;
}

function spread<T>(all: readonly T[], most: number): T[] {
  const step = Math.max(1, all.length / most);
  return Array.from({ length: Math.min(most, all.length) }, (_, i) => all[Math.floor(i * step)] as T);
}

/** Questions whose flows meet what is rare, then others. */
function rareFirst(forwarding: Forwarding, all: readonly Asking[], most: number, coverage: Coverage): Asking[] {
  const rare = all.filter(({ from, to }) => {
    const [flow] = trace(forwarding, { from, to, bytes: SMALL }).flows;
    return flow !== undefined && coverage.isRare(flow);
  });
  const chosen = new Set(spread(rare, most));
  for (const each of spread(all, most)) if (chosen.size < most) chosen.add(each);
  return [...chosen];
}

/**
 * Builds a plan in network namespaces and sends real packets between its places; the kernel decides who is right. At most `most`
 * of the questions, every place to every other where none are given, those first that meet what few of `met` have, which counts them; `built`
 * is built instead of the plan where the two are to differ.
 */
export async function prove(
  plan: Plan,
  most = 400,
  {
    built = plan,
    met,
    questions,
  }: { readonly built?: Plan; readonly met?: Coverage; readonly questions?: readonly Asking[] } = {},
): Promise<Proof> {
  const { asked, machines, internet, notes } = askedOf(plan, most, met, questions);
  const model = modelOf(built, machines, internet);
  const first = await inNamespaces(plan, model, asked, internet);
  let standing = first.disagreements;
  // A busy machine loses packets: what differs is sent again, and counts while it differs in the same way.
  for (let sending = 1; sending < SENDINGS && standing.length > 0; sending++) {
    const again = await inNamespaces(plan, model, asked, internet);
    standing = standing.filter((each) => again.disagreements.includes(each));
  }
  for (const each of asked) counted(each, met);
  return {
    ...first,
    disagreements: standing,
    noise: first.disagreements.filter((each) => !standing.includes(each)),
    notes: [...model.notes, ...notes],
  };
}

/** Counts what a flow met, once for all its sizes. */
export function counted({ flow, bytes, isHeard }: AskedFlow, met: Coverage | undefined): void {
  if (bytes === SMALL) met?.add(flow);
  if (isHeard !== undefined) met?.addTooLarge(isHeard);
}

/** Tunnels of connections are built by a harness of their own, with gateways on both sides. */
const CONNECTIONS =
  'Flows over tunnels of connections are left out here: the tests prove them with gateways on both sides.';

/** To the gateway of another cluster, which is named and not known by an address. */
function isOverConnection(event: RoadEvent): boolean {
  return event.event === 'wrapped' && typeof event.to === 'string';
}

/** The machine of the plan that a flow to an address came to; undefined where that is on the internet, or nothing arrived. */
function heldInPlan(forwarding: Forwarding, plan: Plan, { aim, forth }: FlowTrace): Host | undefined {
  const last = forth.at(-1);
  if (last?.event !== 'delivered' || last.spot.kind === 'internet') return undefined;
  const hosts = plan.networks.flatMap(({ id }) => hostAt(forwarding, id, aim.address) ?? []);
  return hosts.find(({ label }) => label === last.spot.name);
}

/** Of a range without zones the pods that stand for each zone have one address. */
const ONE_ADDRESS =
  'Pods of several zones that stand at one address of their range cannot be built together; of those only the first are sent.';

/** Whether a machine with the address of a host stands on another node already. */
function isElsewhere(machines: ReadonlyMap<string, Host>, host: Host): boolean {
  const known = machines.get(key(host))?.node;
  return known !== undefined && host.node !== undefined && key(known) !== key(host.node);
}

/** Providers put a machine’s own public address in place of its private one by a fixed rule, one to one. */
const OWN_PUBLIC =
  'The kernel gives machines their own public addresses by connection tracking, so an answer keeps the address that was called; flows whose answers would leave under another one are left out.';

function isUnderOwnPublic(event: RoadEvent): boolean {
  return event.event === 'translated' && event.translation.by === 'own';
}

/** Flows whose outcome the model can show: known addresses, TCP and UDP, no verdict left open. */
function isComparable({ from, aim, verdict, forth, back }: FlowTrace, to: Target): boolean {
  if (to.kind === 'address' && verdict === 'pass') return false;
  if (aim.protocol !== 'tcp' && aim.protocol !== 'udp') return false;
  if (verdict === 'unknown' || from.kind === 'internet') return false;
  // Of ways that are as good the kernel takes one, and the plan all.
  if ([...forth, ...back].some((event) => (lookUpOf(event)?.found.equal.length ?? 0) > 0)) return false;
  const inOverlay = [from, aim.host].some((host) => host?.kind === 'pod' && host.cluster?.podMode === 'overlay');
  const { encapsulation = '', encryption = 'none' } = from.cluster ?? {};
  return (
    !inOverlay ||
    (aim.address.family === 4 && encryption === 'none' && (encapsulation === 'vxlan' || encapsulation === 'geneve'))
  );
}

/** Every place to every target. */
function questionsOf(plan: Plan): readonly Asking[] {
  const clusters = plan.clusters.flatMap(({ id, name }) => {
    const pools = plan.nodePools
      .filter(({ clusterId }) => clusterId === id)
      .map((pool) => `${name}, pool ${pool.name}`);
    return [name, ...pools].flatMap((of) => [`pod of ${of}`, `node of ${of}`]);
  });
  const others = [
    ...plan.bastions.map(({ name }) => `bastion ${name}`),
    ...plan.inUse
      .filter(({ networkId }) => networkId !== null)
      .map(({ prefix, owner }) => `range ${prefix} (${owner})`),
  ];
  const from = [...clusters, ...others];
  const to = [...clusters, ...others, 'the internet'].flatMap((place) => [
    `${place} tcp 80`,
    `${place} udp 53`,
    `${place} tcp 8080`,
  ]);
  // Addresses that nobody has, or that a device shows: what is to pass there is not built.
  const alone = [...plan.natDevices, ...plan.firewalls].flatMap(({ publicAddresses }) => publicAddresses);
  const nobody = ['10.0.77.9', '10.1.77.9', ...alone].map((address) => `${address} tcp 80`);
  const needs = plan.needs.map(({ name }) => `need ${name}`);
  const all = from.flatMap((one) => [...to, ...needs, ...nobody].map((other) => [one, other] as const));
  return all.flatMap(([one, other]) => {
    const place = readPlace(plan, one);
    const target = readTarget(plan, other);
    return place.ok && target.ok ? [{ from: place.value, to: target.value, words: `${one} to ${other}` }] : [];
  });
}

let made = 0;

async function inNamespaces(
  plan: Plan,
  model: Model,
  asked: readonly AskedFlow[],
  internet: readonly string[],
): Promise<Sent> {
  const prefix = `wl${process.pid}x${made++}`;
  const nameOf = (space: string) => `${prefix}-${space}`;
  const agents = new Map<string, Agent>();
  const ports = [...new Set(asked.map(({ flow }) => flow.aim.port))];
  try {
    build(model, nameOf);
    await Promise.all(
      [...new Set(model.spaceOf.values())].map(async (space) => {
        const addresses =
          space === 'inet'
            ? internet
            : [...model.spaceOf].filter(([, at]) => at === space).map(([each]) => each.split(' ').at(-1) ?? '');
        agents.set(space, await Agent.start(nameOf(space), space, addresses, ports));
      }),
    );
    return await compare(plan, model, asked, agents, nameOf);
  } finally {
    for (const agent of agents.values()) agent.end();
    const lines = model.spaces.map(({ name }) => `netns del ${nameOf(name)}`);
    run('ip', ['-force', '-batch', '-'], lines.join('\n'));
  }
}

function build({ spaces, cables }: Model, nameOf: (space: string) => string): void {
  run('ip', ['-batch', '-'], spaces.map(({ name }) => `netns add ${nameOf(name)}`).join('\n'));
  const links = cables.map(
    ({ ends: [[a, one], [b, other]], mtu }) =>
      `link add ${one} mtu ${mtu} address ${MAC} netns ${nameOf(a)} type veth peer name ${other} mtu ${mtu} address ${MAC} netns ${nameOf(b)}`,
  );
  run('ip', ['-batch', '-'], links.join('\n'));
  for (const { name, ip, nft, sysctl } of spaces) {
    const devices = cables.flatMap(({ ends }) => ends.filter(([space]) => space === name).map(([, device]) => device));
    const bridge = ip.filter((line) => line.startsWith('bridge '));
    const plain = ip.filter((line) => !line.startsWith('bridge '));
    const lines = [
      ...devices.map((device) => `link set ${device} arp off up`),
      ...plain.filter((line) => !line.startsWith('route ')),
      ...plain.filter((line) => line.startsWith('route ')),
    ];
    run('ip', ['-n', nameOf(name), '-batch', '-'], lines.join('\n'));
    // Which table is looked up in holds for both families.
    const rules = lines.filter((line) => line.startsWith('rule '));
    if (rules.length > 0) run('ip', ['-6', '-n', nameOf(name), '-batch', '-'], rules.join('\n'));
    const settings = sysctl
      .map((each) => each.split('='))
      .map(([path, value]) => `echo ${value} > /proc/sys/${path} 2>/dev/null || true`);
    const script = [
      ...settings,
      ...bridge,
      ...(nft.length === 0 ? [] : ["nft -f - <<'EOF'", 'add table inet wl', ...nft, 'EOF']),
    ];
    run('ip', ['netns', 'exec', nameOf(name), 'sh', '-e'], script.join('\n'));
  }
}

async function compare(
  plan: Plan,
  model: Model,
  asked: readonly AskedFlow[],
  agents: ReadonlyMap<string, Agent>,
  nameOf: (space: string) => string,
): Promise<Sent> {
  const disagreements: string[] = [];
  let sent = 0;
  let passing = 0;
  await Promise.all(
    asked.map(async ({ words, flow, bytes, isTooLarge, isHeard }) => {
      const { from, aim, verdict, forth } = flow;
      const agent = agents.get(model.spaceOf.get(key(from)) ?? '');
      if (agent === undefined) return;
      const probe = {
        protocol: aim.protocol as 'tcp' | 'udp',
        from: formatAddress(forth[0]?.packet.source ?? from.address),
        to: formatAddress(aim.address),
        port: aim.port,
        bytes,
        opensSmall: isTooLarge,
      };
      const expected = verdict === 'pass' && !isTooLarge;
      let answer = await agent.send(probe);
      // A busy machine can be late: what was to pass is asked again before it counts.
      for (let again = 0; again < 3 && expected && answer === undefined; again++) answer = await agent.send(probe);
      sent++;
      if (expected) passing++;
      const isTarget = answer === undefined || aim.host === undefined || answer.by === model.spaceOf.get(key(aim.host));
      if ((answer !== undefined && isTarget) !== expected) {
        const why = flow.failed === undefined ? 'it passes' : formatFault(plan, flow);
        disagreements.push(
          `${words}: the kernel ${answer === undefined ? 'lets nothing through' : 'lets it through'}; the plan says: ${why}`,
        );
        return;
      }
      if (isHeard !== undefined) {
        const found = run('ip', [
          '-n',
          nameOf(model.spaceOf.get(key(from)) ?? ''),
          'route',
          'get',
          probe.to,
          'from',
          probe.from,
        ]);
        // What is learned of a way is remembered for some minutes (RFC 1191 6.3).
        if (/expires \d+sec.* mtu \d+/s.test(found) !== isHeard)
          disagreements.push(
            `${words}: its sender ${isHeard ? 'is not told by the kernel that it is' : 'hears in the kernel that it is'} too large; the plan says ${isHeard ? 'it hears' : 'it does not'}`,
          );
        return;
      }
      const source = formatAddress(forth.at(-1)?.packet.source ?? from.address);
      const isOwnPublic = forth.some(isUnderOwnPublic);
      if (answer !== undefined && isTarget && answer.seen !== source && !isOwnPublic)
        disagreements.push(`${words}: the far end sees ${answer.seen}, and the plan says ${source}`);
    }),
  );
  return { sent, passing, disagreements };
}
