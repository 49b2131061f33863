import { answering, byId, podsFor, readBackendRef, readServicePort } from '../plan/index.js';
import type { Balancer, Controller, IngressRoute, Kind } from '../plan/index.js';
import { certifies } from '../zones/index.js';
import type { IngressState } from './ingressState.js';
import type { EntryPointLack } from '../english/index.js';

/** The lists that a call passes, in their order. */
export const entryPointLists = ['hosts', 'listeners', 'routes', 'services', 'members'] as const;

/** One of the lists that a call passes. */
export type EntryPointList = (typeof entryPointLists)[number];

/** One entry of a list. */
export interface EntryPoint {
  readonly list: EntryPointList;
  readonly key: string;
  readonly label: string;
  readonly about: string;
  /** Where the chain is broken here; undefined where it goes on. */
  readonly open: EntryPointLack | undefined;
  readonly subject: { readonly kind: Kind; readonly id: string } | undefined;
}

/** The entry points of a plan: five lists, and the chains of their entries that calls can take. */
export interface EntryPoints {
  readonly entries: readonly EntryPoint[];
  /** Keys in the order of the lists; a chain that is broken ends early, and one that no host names begins later. */
  readonly chains: readonly (readonly string[])[];
}

/** Every entry point of the plan as five linked lists: hosts, listeners, routes, services and members. */
export function entryPointsOf(state: IngressState): EntryPoints {
  return new EntryPointLists(state).all();
}

/** How many hosts of a cluster's routes are answered, of all that they name. */
export interface EntryPointCount {
  readonly open: number;
  readonly all: number;
}

/** The hosts of each cluster's routes, and those whose chain goes through from listener to pods. */
export function entryPointCounts(
  { parts }: IngressState,
  { entries, chains }: EntryPoints,
): ReadonlyMap<string, EntryPointCount> {
  const byKey = new Map(entries.map((entry) => [entry.key, entry]));
  const found = new Map<string, Map<string, boolean>>();
  for (const chain of chains) {
    const own = chain.flatMap((key) => byKey.get(key) ?? []);
    const host = own.find(({ list }) => list === 'hosts');
    const route = own.find(({ list }) => list === 'routes')?.subject?.id;
    const clusterId = byId(parts.ingressRoutes, route ?? '')?.clusterId;
    if (host === undefined || clusterId === undefined) continue;
    const isThrough = own.length === entryPointLists.length && own.every(({ open }) => open === undefined);
    const hosts = found.get(clusterId) ?? new Map<string, boolean>();
    found.set(clusterId, hosts);
    hosts.set(host.key, isThrough || hosts.get(host.key) === true);
  }
  return new Map(
    [...found].map(([id, hosts]) => [id, { open: [...hosts.values()].filter(Boolean).length, all: hosts.size }]),
  );
}

interface Making extends Omit<EntryPoint, 'open'> {
  open: EntryPointLack | undefined;
}

class EntryPointLists {
  private readonly made = new Map<string, Making>();
  private readonly chains: (readonly string[])[] = [];

  constructor(private readonly state: IngressState) {}

  all(): EntryPoints {
    for (const balancer of this.state.parts.balancers) this.balancer(balancer);
    for (const controller of this.state.parts.controllers) if (controller.balancerId === null) this.inside(controller);
    for (const route of this.state.parts.ingressRoutes) this.route(route);
    // What no route leads to stands alone, with what is missing.
    const inChain = new Set(this.chains.flat());
    for (const { key } of this.made.values()) if (!inChain.has(key)) this.chains.push([key]);
    const place = (entry: Making) => entryPointLists.indexOf(entry.list);
    const entries = [...this.made.values()].sort((a, b) => place(a) - place(b) || (a.label < b.label ? -1 : 1));
    return { entries, chains: this.chains };
  }

  private entry(
    list: EntryPointList,
    key: string,
    label: string,
    about: string,
    subject: EntryPoint['subject'],
  ): Making {
    const known = this.made.get(key);
    if (known !== undefined) return known;
    const made: Making = { list, key, label, about, open: undefined, subject };
    this.made.set(key, made);
    return made;
  }

  private balancer(balancer: Balancer): void {
    const fed = this.state.parts.controllers.filter(({ balancerId }) => balancerId === balancer.id);
    for (const listener of this.state.listenersOf(balancer)) {
      const subject = { kind: 'listeners', id: listener.id } as const;
      const entry = this.entry(
        'listeners',
        listener.id,
        `${listener.protocol} ${listener.port}`,
        balancer.name,
        subject,
      );
      const backend = byId(this.state.parts.backends, listener.backendId ?? '');
      const endsTls = listener.protocol === 'https' || listener.protocol === 'tls';
      if (endsTls && this.state.namesOn(listener).length === 0)
        entry.open = listener.certificate === '' ? { code: 'no-certificate' } : { code: 'no-names' };
      const reads = fed.filter(({ tier }) => tier === 'on a load balancer');
      if (backend === undefined) {
        if (reads.length === 0) entry.open = { code: 'no-backend' };
        continue;
      }
      if (backend.members !== 'addresses' && backend.serviceId === null)
        entry.open = { code: 'backend.no-service', backend: backend.name };
      const service = byId(this.state.parts.services, backend.serviceId ?? '');
      if (service !== undefined && service.ports.every((text) => readServicePort(text)?.port !== backend.port))
        entry.open = { code: 'no-port', port: backend.port, service: `${service.namespace}/${service.name}` };
      if (fed.some(({ serviceId }) => serviceId !== null && serviceId === backend.serviceId)) continue;
      const behind =
        backend.members === 'addresses'
          ? backend.addresses.map((address) => [
              this.entry('members', `${backend.id} ${address}`, address, backend.name, {
                kind: 'backends',
                id: backend.id,
              }).key,
            ])
          : backend.serviceId === null
            ? [[]]
            : this.service(backend.serviceId);
      // Names that its certificate covers, and that no route is for, are hosts of its own.
      const covered = this.state.namesOn(listener);
      const hosts = covered.length === 0 ? [[]] : covered.map((host) => [this.host(host).key]);
      for (const host of hosts) for (const rest of behind) this.chains.push([...host, entry.key, ...rest]);
    }
  }

  private inside(controller: Controller): void {
    const cluster = byId(this.state.parts.clusters, controller.clusterId);
    const entry = this.entry('listeners', controller.id, controller.name, `only inside ${cluster?.name ?? ''}`, {
      kind: 'controllers',
      id: controller.id,
    });
    if (controller.serviceId === null) entry.open = { code: 'controller.no-service' };
  }

  private host(host: string): Making {
    return this.entry('hosts', `host ${host}`, host === '' ? 'every host' : host, '', undefined);
  }

  private route(route: IngressRoute): void {
    const subject = { kind: 'ingressRoutes', id: route.id } as const;
    const conditions = route.headers.length + route.query.length + (route.method === 'any' ? 0 : 1);
    const about = `${route.namespace}/${route.name}${conditions === 0 ? '' : `, ${conditions} ${conditions === 1 ? 'condition' : 'conditions'}`}`;
    const entry = this.entry(
      'routes',
      route.id,
      `${route.path}${route.pathType === 'Exact' ? ' exactly' : ''}`,
      about,
      subject,
    );
    const behind = route.backends.flatMap((text): (readonly string[])[] => {
      const ref = readBackendRef(text);
      if (ref === undefined) return [];
      const { service, name } = this.state.serviceOf(route, ref);
      if (service !== undefined) return this.service(service.id);
      entry.open = { code: 'service-gone', service: name };
      return [];
    });
    if (route.backends.length === 0 && route.redirect === '') entry.open = { code: 'route.no-service' };
    for (const before of this.before(route))
      for (const rest of behind.length === 0 ? [[]] : behind) this.chains.push([...before, entry.key, ...rest]);
  }

  /** The hosts of a route with the listeners at which they are answered; a host alone where there is none. */
  private before(route: IngressRoute): (readonly string[])[] {
    const serving = this.state.controllersOf(route);
    const [className] = this.state.classesOf(route);
    const entryPoints = serving.flatMap((controller) => this.entryPointsOf(controller));
    const hosts = route.hosts.length === 0 ? [''] : route.hosts.map((each) => each.toLowerCase());
    return hosts.flatMap((host) => {
      const from = this.host(host);
      if (serving.length === 0)
        from.open = className === undefined ? { code: 'no-class' } : { code: 'no-controller', className };
      else if (entryPoints.length === 0) from.open = { code: 'no-listener' };
      const fitting = entryPoints.filter((entry) => this.fits(entry, host));
      return fitting.length === 0 ? [[from.key]] : fitting.map((entry) => [from.key, entry.key]);
    });
  }

  private entryPointsOf(controller: Controller): Making[] {
    const balancer = byId(this.state.parts.balancers, controller.balancerId ?? '');
    if (balancer === undefined) return this.made.has(controller.id) ? [this.made.get(controller.id) as Making] : [];
    return this.state.listenersOf(balancer).flatMap((listener): Making[] => {
      const backend = byId(this.state.parts.backends, listener.backendId ?? '');
      const isFed = controller.tier === 'on a load balancer' || backend?.serviceId === controller.serviceId;
      const made = this.made.get(listener.id);
      return isFed && made !== undefined ? [made] : [];
    });
  }

  /** A listener whose certificate is for other hosts is not an entry point for this one. */
  private fits({ subject }: Making, host: string): boolean {
    const listener = subject?.kind === 'listeners' ? byId(this.state.parts.listeners, subject.id) : undefined;
    if (host === '' || listener === undefined) return true;
    const covered = this.state.namesOn(listener);
    return covered.length === 0 || certifies(covered, host);
  }

  /** A service and each of its members. */
  private service(id: string): (readonly string[])[] {
    const service = byId(this.state.parts.services, id);
    if (service === undefined) return [[]];
    const cluster = byId(this.state.parts.clusters, service.clusterId);
    const entry = this.entry('services', id, `${service.namespace}/${service.name}`, cluster?.name ?? '', {
      kind: 'services',
      id,
    });
    if (service.type === 'ExternalName') entry.open = { code: 'outside', name: service.externalName };
    const members = answering(service, this.state.workloadsOf(service.clusterId)).flatMap((each) => each.members);
    if (members.length === 0 && service.type !== 'ExternalName' && service.endpoints.length === 0)
      entry.open = { code: 'no-pods' };
    const keys = members.map(({ workload, port }) => {
      const pods = `${workload.replicasNow} ${workload.replicasNow === 1 ? 'pod' : 'pods'}`;
      const member = this.entry('members', workload.id, `${workload.namespace}/${workload.name}`, pods, {
        kind: 'workloads',
        id: workload.id,
      });
      if (workload.replicasNow === 0) member.open = { code: 'no-replicas' };
      else if (podsFor(service, workload) === 0) member.open = { code: 'none-ready' };
      if (port === undefined) entry.open = { code: 'deaf', workload: workload.name };
      return member.key;
    });
    return keys.length === 0 ? [[id]] : [...new Set(keys)].map((key) => [id, key]);
  }
}
