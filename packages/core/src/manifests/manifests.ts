import { stringify } from 'yaml';
import {
  addOperation,
  addTo,
  byId,
  checkEntity,
  grouped,
  isSameValue,
  newId,
  readParentRef,
  setOperation,
  withFallbacks,
} from '../plan/index.js';
import type {
  Cluster,
  ClusterService,
  Controller,
  EntityOf,
  Gateway,
  IngressRoute,
  Kind,
  Operation,
  Plan,
  ServiceExport,
  Workload,
} from '../plan/index.js';
import { isRecord, readDocuments } from './documents.js';
import type { ManifestProblem } from './documents.js';
import { quotedNumbers } from './quotedNumbers.js';
import { daemonPods } from '../ingress/index.js';
import {
  clusterObjects,
  isDefaultClass,
  keptObjectsOf,
  keyOfObject,
  otherPorts,
  readyIn,
  serviceOfSlice,
  withLabelsOf,
} from './clusterObjects.js';
import {
  gatewayFacets,
  grantFacets,
  policyFacets,
  serviceFacets,
  skeleton,
  workloadFacets,
  workloadSkeleton,
} from './facets.js';
import type { Facet } from './facets.js';
import { beyond } from './paths.js';
import type { Draft } from './paths.js';
import { gatewayRules, ingressRules, portsOf, writeIngress, writeRoute } from './routeObjects.js';
import { patchedIngress, patchedRoute } from './routePatch.js';
import {
  exportObject,
  exportsOfCluster,
  firstOfEach,
  importObject,
  importsOfCluster,
  typeOf,
} from './sharedServices.js';
import { fields, upgrade, versions } from './upgrade.js';
import { formatNumber } from '../working/index.js';

type Written = Readonly<Record<string, unknown>>;

/** One object that was read. */
export interface ReadObject {
  readonly line: number;
  readonly kind: string;
  readonly name: string;
  /** The retired version it came in, and what was changed for that of today; empty where it was in that one. */
  readonly from: string;
  readonly changes: readonly string[];
  /** Fields that the plan does not know, by path: they are kept and written back. */
  readonly unknown: readonly string[];
}

/** What was read from manifests, and the change of the plan that follows. */
export interface ReadManifests {
  readonly objects: readonly ReadObject[];
  readonly problems: readonly ManifestProblem[];
  readonly operations: readonly Operation[];
}

/** Characters of an object that are kept with it. */
const MAX_KEPT = 8000;

const kindOfObject: Readonly<Record<string, Single | 'ingressRoutes' | 'serviceExports' | 'imports' | 'clusters'>> = {
  Deployment: 'workloads',
  StatefulSet: 'workloads',
  DaemonSet: 'workloads',
  Service: 'services',
  Gateway: 'gateways',
  NetworkPolicy: 'networkPolicies',
  Ingress: 'ingressRoutes',
  HTTPRoute: 'ingressRoutes',
  GRPCRoute: 'ingressRoutes',
  TLSRoute: 'ingressRoutes',
  TCPRoute: 'ingressRoutes',
  ServiceExport: 'serviceExports',
  ServiceImport: 'imports',
  ReferenceGrant: 'referenceGrants',
  Namespace: 'clusters',
  IngressClass: 'clusters',
  EndpointSlice: 'clusters',
};

/** What routes refer to is read before them. */
const order = [
  'workloads',
  'services',
  'gateways',
  'networkPolicies',
  'referenceGrants',
  'ingressRoutes',
  'serviceExports',
  'imports',
  'clusters',
];

/**
 * Reads the manifests of a cluster: documents one by one, retired versions brought to that of today, what the plan does not know kept.
 * An export that says nothing of when it was created is of the day that is passed.
 */
export function readManifests(plan: Plan, clusterId: string, text: string, today: string): ReadManifests {
  return new Reader(plan, clusterId, today).read(text);
}

interface Found {
  readonly line: number;
  readonly object: Written;
  readonly kind: string;
  readonly name: string;
  readonly namespace: string;
  /** The day that the cluster says it was created on; empty where it does not. */
  readonly createdOn: string;
  /** When that was, in milliseconds since 1970; undefined where the cluster does not say it. */
  readonly created: number | undefined;
  readonly from: string;
  readonly changes: readonly string[];
}

function titleOf({ kind, namespace, name }: Pick<Found, 'kind' | 'namespace' | 'name'>): string {
  return `${kind} ${namespace}/${name}`;
}

class Reader {
  private readonly objects: ReadObject[] = [];
  private readonly problems: ManifestProblem[] = [];
  private readonly operations: Operation[] = [];
  private readonly seen = new Set<string>();
  private readonly services: ClusterService[];
  private readonly gateways: Gateway[];
  /** The cluster as it is after what was read of objects that it keeps. */
  private cluster: Cluster | undefined;
  private readonly controllers: Controller[];
  private ages: ReadonlyMap<string, number> = new Map();

  constructor(
    private readonly plan: Plan,
    private readonly clusterId: string,
    private readonly today: string,
  ) {
    this.services = plan.services.filter((each) => each.clusterId === clusterId);
    this.gateways = plan.gateways.filter((each) => each.clusterId === clusterId);
    this.controllers = plan.controllers.filter((each) => each.clusterId === clusterId);
    this.cluster = byId(plan.clusters, clusterId);
  }

  read(text: string): ReadManifests {
    const found = readDocuments(text).flatMap((document): Found[] => {
      if (!document.ok) {
        this.problems.push(document.problem);
        return [];
      }
      return this.found(document.value, document.line);
    });
    const place = ({ kind }: Found) => order.indexOf(kindOfObject[kind] ?? '');
    this.ages = this.agesOf(found.filter((each) => kindOfObject[each.kind] === 'ingressRoutes'));
    for (const each of [...found].sort((a, b) => place(a) - place(b))) this.take(each);
    this.objects.sort((a, b) => a.line - b.line);
    this.problems.sort((a, b) => a.line - b.line);
    return { objects: this.objects, problems: this.problems, operations: this.operations };
  }

  /**
   * The ages of routes as places by the time of their creation, 1 for the oldest. Only where every route of the cluster that has an age is read
   * with its time: a place among some says nothing of the others.
   */
  private agesOf(found: readonly Found[]): ReadonlyMap<string, number> {
    const dated = found.flatMap((each) =>
      each.created === undefined ? [] : [{ title: titleOf(each), created: each.created }],
    );
    const titles = new Set(dated.map(({ title }) => title));
    const aged = this.plan.ingressRoutes.filter(({ clusterId, age }) => clusterId === this.clusterId && age > 0);
    if (aged.some((each) => !titles.has(titleOf({ ...each, kind: each.objectKind })))) return new Map();
    const times = [...new Set(dated.map(({ created }) => created))].sort((a, b) => a - b);
    const places = new Map(times.map((time, at) => [time, at + 1]));
    return new Map(dated.map(({ title, created }) => [title, places.get(created) ?? 0]));
  }

  private wrong(line: number, message: string, fix: string): never[] {
    this.problems.push({ line, message, fix });
    return [];
  }

  private found(value: unknown, line: number): Found[] {
    if (!isRecord(value))
      return this.wrong(line, 'This document is not an object.', 'A manifest has fields: apiVersion, kind, metadata.');
    const { kind, apiVersion } = value;
    if (typeof kind !== 'string' || typeof apiVersion !== 'string')
      return this.wrong(line, 'This document has no kind or no apiVersion.', 'Both stand at the top of every object.');
    if (kindOfObject[kind] === undefined)
      return this.wrong(
        line,
        `Objects of the kind ${kind} are not read.`,
        `Read are ${Object.keys(versions).join(', ')}. It is left out.`,
      );
    const metadata = fields(value['metadata']);
    const name = metadata['name'];
    if (typeof name !== 'string' || name === '')
      return this.wrong(line, `This ${kind} has no name.`, 'Write metadata.name.');
    const upgraded = upgrade(value);
    if (upgraded === undefined)
      return this.wrong(
        line,
        `${kind} ${name}: ${apiVersion} is not a version of this kind.`,
        `Write ${versions[kind] ?? ''}.`,
      );
    const namespace = typeof metadata['namespace'] === 'string' ? metadata['namespace'] : 'default';
    const key = titleOf({ kind, namespace, name });
    if (this.seen.has(key)) return this.wrong(line, `${key} is there twice.`, 'The first is taken; remove one.');
    this.seen.add(key);
    const [quoted] = quotedNumbers(value);
    if (quoted !== undefined)
      return this.wrong(
        line,
        `${key}: ${quoted.path} is the text "${quoted.value}", and the API takes a number there.`,
        'Write it without quotes. The object is left out.',
      );
    const stamp = metadata['creationTimestamp'];
    const created = new Date(stamp instanceof Date || typeof stamp === 'string' ? stamp : Number.NaN).getTime();
    const createdOn = Number.isNaN(created) ? '' : new Date(created).toISOString().slice(0, 10);
    return [
      {
        line,
        object: upgraded.object,
        kind,
        name,
        namespace,
        createdOn,
        created: Number.isNaN(created) ? undefined : created,
        from: upgraded.from,
        changes: upgraded.changes,
      },
    ];
  }

  private take(found: Found): void {
    switch (kindOfObject[found.kind]) {
      case 'workloads': {
        const { kind } = found;
        this.one('workloads', found, workloadFacets, { objectKind: kind as Workload['objectKind'] });
        return;
      }
      case 'services': {
        this.one('services', found, serviceFacets, {});
        return;
      }
      case 'gateways': {
        this.one('gateways', found, gatewayFacets, {});
        return;
      }
      case 'networkPolicies': {
        this.one('networkPolicies', found, policyFacets, {});
        return;
      }
      case 'referenceGrants': {
        this.one('referenceGrants', found, grantFacets, {});
        return;
      }
      case 'clusters': {
        this.keptWhole(found);
        return;
      }
      case 'serviceExports': {
        this.exported(found);
        return;
      }
      case 'imports': {
        this.imported(found);
        return;
      }
      default: {
        this.rules(found);
        return;
      }
    }
  }

  private one<K extends Single>(
    kind: K,
    found: Found,
    facets: readonly Facet<EntityOf[K]>[],
    more: Partial<EntityOf[K]>,
  ): void {
    const { object, name, namespace } = found;
    const read = Object.fromEntries(facets.map((facet) => [facet.field, facet.read(object)]));
    const known = (this.plan[kind] as readonly EntityOf[K][]).find(
      (each) => each.clusterId === this.clusterId && each.namespace === namespace && each.name === name,
    );
    // Growth is the plan's own: a manifest tells of today alone.
    const grown = kind === 'workloads' && known === undefined ? { replicasHorizon: read['replicasNow'] } : {};
    const seen =
      kind === 'workloads' ? readiness(object, Number(read['replicasNow']), known as Workload | undefined) : {};
    const alone = {
      ...withFallbacks(kind, { id: known?.id ?? newId(), clusterId: this.clusterId, namespace, name, ...more }),
      ...known,
      ...read,
      ...grown,
      ...seen,
    } as EntityOf[K];
    // How many pods a DaemonSet has is for the nodes to say.
    const entity = found.kind === 'DaemonSet' ? { ...alone, ...daemonPods(this.plan, alone as Workload) } : alone;
    const unknown = beyond(cleaned(object), writeOne(kind, { ...entity, preserved: '' }), '', holdsValues.has(kind));
    const whole = { ...entity, ...more, preserved: this.kept(found, unknown) };
    if (!this.put(kind, known, whole, found)) return;
    if (kind === 'services') this.services.push(whole as ClusterService);
    if (kind === 'gateways') this.gateways.push(whole as Gateway);
    this.report(found, unknown);
  }

  private rules(found: Found): void {
    const { kind, object, name, namespace, line } = found;
    const form = kind as IngressRoute['objectKind'];
    // Those that were read now stand before those of the plan.
    const services = [...this.services].reverse();
    const rules = form === 'Ingress' ? ingressRules(object, portsOf(services, namespace)) : gatewayRules(object, form);
    const ofCluster = grouped(this.plan.ingressRoutes, 'clusterId').get(this.clusterId) ?? [];
    const known = ofCluster.filter(
      (each) => each.objectKind === form && each.namespace === namespace && each.name === name,
    );
    const made: IngressRoute[] = [];
    rules.forEach((rule, at) => {
      if ('problem' in rule)
        return this.wrong(
          line,
          `${kind} ${namespace}/${name}, rule ${at + 1}: ${rule.problem}.`,
          'Read the service with it, or name the port by its number.',
        );
      const before = known.find((each) => each.rule === at + 1);
      const gateway = this.gateways.find((each) => `${each.namespace}/${each.name}` === rule.gateway);
      if (rule.gateway !== '' && gateway === undefined)
        this.wrong(
          line,
          `${kind} ${namespace}/${name} attaches to the gateway ${rule.gateway}, which is not there.`,
          'Read the gateway with it, or choose one at the route.',
        );
      if (at === 0) this.parentsThere(found, rule.fields.additionalParents ?? []);
      const base = withFallbacks('ingressRoutes', {
        id: before?.id ?? newId(),
        clusterId: this.clusterId,
        namespace,
        name,
        rule: at + 1,
      });
      made.push({
        ...base,
        ...before,
        ...rule.fields,
        gatewayId: gateway?.id ?? null,
        age: this.ages.get(titleOf(found)) ?? before?.age ?? 0,
        isDeprecatedVersion: found.from !== '',
        preserved: '',
      });
      return undefined;
    });
    const gateway = this.gateways.find(({ id }) => id === made[0]?.gatewayId);
    const written = form === 'Ingress' ? writeIngress(made) : writeRoute(made, gateway);
    const unknown = beyond(cleaned(object), written, '', true);
    const preserved = this.kept(found, unknown);
    const all = made.map((each, at) => (at === 0 ? { ...each, preserved } : each));
    for (const each of all)
      this.put(
        'ingressRoutes',
        known.find(({ id }) => id === each.id),
        each,
        found,
      );
    // A rule that cannot be read is there all the same: only rules past the last one are gone.
    for (const gone of known)
      if (gone.rule > rules.length) this.operations.push({ op: 'remove', kind: 'ingressRoutes', id: gone.id });
    this.report(found, unknown);
  }

  /** Gateways that a route attaches to beside its first one have to be there. */
  private parentsThere({ kind, namespace, name, line }: Found, parents: readonly string[]): void {
    for (const ref of parents.flatMap((text) => readParentRef(text) ?? []))
      if (!this.gateways.some((each) => each.namespace === ref.namespace && each.name === ref.gateway))
        this.wrong(
          line,
          `${kind} ${namespace}/${name} attaches to the gateway ${ref.namespace}/${ref.gateway}, which is not there.`,
          'Read the gateway with it, or take it out of the further gateways of the route.',
        );
  }

  /** A service that is exported already stays as it is; a new one goes into the one connection that the cluster is in. */
  private exported(found: Found): void {
    const { object, namespace, name, line, createdOn } = found;
    const isNamed = (each: ServiceExport) => each.namespace === namespace && each.name === name;
    const known = exportsOfCluster(this.plan, this.clusterId).filter(isNamed);
    const members = this.plan.members.filter(({ clusterId }) => clusterId === this.clusterId);
    const [member] = members;
    if (known.length === 0 && (member === undefined || members.length > 1)) {
      const names = members.map(({ connectionId }) => byId(this.plan.connections, connectionId)?.name ?? '').join(', ');
      if (member === undefined)
        this.wrong(
          line,
          `ServiceExport ${namespace}/${name}: the cluster is a member of no connection.`,
          'Make it a member of one first, at Cross-cluster.',
        );
      else
        this.wrong(
          line,
          `ServiceExport ${namespace}/${name}: the cluster is a member of ${names}, and the manifest does not say to which of them.`,
          'Export it there at Cross-cluster; it is then known here.',
        );
      return;
    }
    const unknown = beyond(cleaned(object), exportObject({ namespace, name }));
    const kept = this.kept(found, unknown);
    const dated = createdOn === '' ? {} : { createdOn };
    const made =
      known.length > 0
        ? known
        : [
            withFallbacks('serviceExports', {
              id: newId(),
              memberId: member?.id ?? '',
              namespace,
              name,
              createdOn: this.today,
            }),
          ];
    for (const [at, each] of made.entries()) {
      const whole = { ...each, ...dated, preserved: at === 0 ? kept : each.preserved };
      if (!this.put('serviceExports', known[at], whole, found)) return;
    }
    this.report(found, unknown);
  }

  /** Objects that are kept whole with their cluster, and what the plan takes from them. */
  private keptWhole(found: Found): void {
    const { cluster } = this;
    if (cluster === undefined) return;
    const object = cleaned(found.object);
    const isWritten = found.kind !== 'EndpointSlice' || !this.followsFromSelector(object);
    if (isWritten) {
      const text = JSON.stringify(object);
      const at = cluster.preservedObjects.findIndex(
        (each) => keyOfObject(JSON.parse(each) as Written) === keyOfObject(object),
      );
      const preservedObjects = at < 0 ? [...cluster.preservedObjects, text] : cluster.preservedObjects.with(at, text);
      const namespaceLabels =
        found.kind === 'Namespace' ? withLabelsOf(cluster.namespaceLabels, object) : cluster.namespaceLabels;
      const after = { ...cluster, namespaceLabels, preservedObjects };
      if (!this.put('clusters', cluster, after, found)) return;
      this.cluster = after;
      if (found.kind === 'IngressClass') this.classRead(found, object);
      if (found.kind === 'EndpointSlice') this.sliceRead(found, object);
    }
    this.report(found, []);
  }

  /** Slices of a service with a selector are written by the cluster itself. */
  private followsFromSelector(object: Written): boolean {
    const { namespace, name } = serviceOfSlice(object);
    const service = [...this.services].reverse().find((each) => each.namespace === namespace && each.name === name);
    return service !== undefined && service.selector.length > 0;
  }

  private classRead(found: Found, object: Written): void {
    const { name } = found;
    const at = this.controllers.findIndex(({ classes }) => classes.includes(name));
    const controller = this.controllers[at];
    if (controller === undefined) {
      if (isDefaultClass(object))
        this.wrong(
          found.line,
          `IngressClass ${name} is the default, and no controller of the plan serves it.`,
          'Add the controller at Ingress, and read this again.',
        );
      return;
    }
    const others = controller.defaultClass === name ? '' : controller.defaultClass;
    const after = { ...controller, defaultClass: isDefaultClass(object) ? name : others };
    if (this.put('controllers', controller, after, found)) this.controllers[at] = after;
  }

  private sliceRead(found: Found, object: Written): void {
    const { namespace, name } = serviceOfSlice(object);
    const at = this.services.findLastIndex((each) => each.namespace === namespace && each.name === name);
    const service = this.services[at];
    const title = `EndpointSlice ${found.namespace}/${found.name}`;
    if (service === undefined || name === '') {
      this.wrong(
        found.line,
        name === ''
          ? `${title} says of no service that it is of it.`
          : `${title} is of the service ${name}, which is not there.`,
        `Write the label kubernetes.io/service-name, and read the service with it. The object is kept.`,
      );
      return;
    }
    const [other] = otherPorts(object, service);
    if (other !== undefined)
      this.wrong(
        found.line,
        `${title} has the port ${other}, and the plan asks at the container port of the service.`,
        'Write the same targetPort at the service.',
      );
    const slices = keptObjectsOf(this.cluster ?? { preservedObjects: [] }).filter((each) => {
      const of = serviceOfSlice(each);
      return each['kind'] === 'EndpointSlice' && of.namespace === namespace && of.name === name;
    });
    const endpoints = [...new Set(slices.flatMap(readyIn))];
    const after = { ...service, endpoints };
    const known = this.plan.services.find(({ id }) => id === service.id);
    if (this.put('services', known ?? service, after, found)) this.services[at] = after;
  }

  /** Imports follow from what other members export, so they are only held against it. */
  private imported(found: Found): void {
    const { object, namespace, name, line } = found;
    const each = importsOfCluster(this.plan, this.clusterId).find(
      (known) => known.namespace === namespace && known.name === name,
    );
    if (each === undefined) {
      this.wrong(
        line,
        `ServiceImport ${namespace}/${name}: no member of a connection of this cluster exports this service to it.`,
        'Imports follow from exports: export it at the cluster that has it.',
      );
      return;
    }
    const type = fields(object['spec'])['type'];
    if (type !== typeOf(each)) {
      this.wrong(
        line,
        `ServiceImport ${namespace}/${name} has the type ${String(type)}, and the exported service makes it ${typeOf(each)}.`,
        'Correct the service where it is exported, or remove the import: the cluster makes it again.',
      );
      return;
    }
    this.report(found, []);
  }

  private kept({ object, kind, namespace, name, line }: Found, unknown: readonly string[]): string {
    if (unknown.length === 0) return '';
    const text = JSON.stringify(cleaned(object));
    if (text.length <= MAX_KEPT) return text;
    this.wrong(
      line,
      `${kind} ${namespace}/${name} has ${formatNumber(text.length)} characters, and ${formatNumber(MAX_KEPT)} are kept.`,
      'What the plan does not know of it is left out: keep its manifest where it is.',
    );
    return '';
  }

  /** Adds it, or sets what differs; what the plan's own rules refuse is told and left out. */
  private put<K extends Kind>(kind: K, before: EntityOf[K] | undefined, after: EntityOf[K], found: Found): boolean {
    const [problem] = checkEntity(kind, after);
    if (problem !== undefined) {
      this.wrong(found.line, `${found.kind} ${found.namespace}/${found.name}: ${problem.message}`, problem.fix);
      return false;
    }
    if (before === undefined) this.operations.push(addOperation(kind, after));
    else {
      const changed = Object.entries(after).filter(([field, value]) => !isSameValue(value, (before as Written)[field]));
      if (changed.length > 0)
        this.operations.push(setOperation(kind, before.id, Object.fromEntries(changed) as Partial<EntityOf[K]>));
    }
    return true;
  }

  private report({ line, kind, namespace, name, from, changes }: Found, unknown: readonly string[]): void {
    this.objects.push({ line, kind, name: `${namespace}/${name}`, from, changes, unknown });
  }
}

/** How many pods a cluster says are not ready, where it does: a manifest without a state leaves what the plan has. */
function readiness(object: Written, replicas: number, known: Workload | undefined): Partial<Workload> {
  const status = fields(object['status']);
  const ready = status['readyReplicas'] ?? status['numberReady'];
  const isStated = status['replicas'] !== undefined || ready !== undefined;
  if (isStated) return { notReady: Math.max(0, replicas - (typeof ready === 'number' ? ready : 0)) };
  return known === undefined ? {} : { notReady: Math.min(known.notReady, replicas) };
}

/** An object without what the cluster itself writes into it. */
function cleaned(object: Written): Written {
  const { status: _, ...rest } = object;
  const metadata = Object.fromEntries(
    Object.entries(fields(rest['metadata'])).filter(
      ([key]) =>
        !['uid', 'resourceVersion', 'generation', 'creationTimestamp', 'managedFields', 'selfLink'].includes(key),
    ),
  );
  return { ...rest, metadata };
}

type Single = 'workloads' | 'services' | 'gateways' | 'networkPolicies' | 'referenceGrants';

/** Kinds whose values are written otherwise than they may have been read: kept where they differ. */
const holdsValues: ReadonlySet<Kind> = new Set(['gateways', 'networkPolicies', 'referenceGrants']);

const facetsOf = {
  workloads: workloadFacets,
  services: serviceFacets,
  gateways: gatewayFacets,
  networkPolicies: policyFacets,
  referenceGrants: grantFacets,
} as const;
const objectNames = {
  services: 'Service',
  gateways: 'Gateway',
  networkPolicies: 'NetworkPolicy',
  referenceGrants: 'ReferenceGrant',
} as const;

/** The object of an entity: as it was read, with what the plan has changed since; or from its fields alone. */
function writeOne<K extends Single>(kind: K, entity: EntityOf[K]): Draft {
  const facets = facetsOf[kind] as readonly Facet<EntityOf[K]>[];
  const original = readKept((entity as { readonly preserved: string }).preserved);
  const changed = facets.filter(
    (facet) => original === undefined || !isSameValue(facet.read(original), entity[facet.field]),
  );
  const draft = original ?? blank(kind, entity);
  for (const facet of changed) facet.write(draft, entity);
  return draft;
}

function blank(kind: Single, entity: EntityOf[Single]): Draft {
  return kind === 'workloads' ? workloadSkeleton(entity as Workload) : skeleton(objectNames[kind], entity);
}

function readKept(kept: string): Draft | undefined {
  if (kept === '') return undefined;
  try {
    const read: unknown = JSON.parse(kept);
    return isRecord(read) ? { ...read } : undefined;
  } catch {
    // Somebody has edited it by hand: what the plan knows is written.
    return undefined;
  }
}

/** Every object of a cluster that the plan holds, in the API versions of today. */
export function manifestObjects(plan: Plan, clusterId: string): readonly Written[] {
  const own = <E extends { readonly clusterId: string }>(items: readonly E[]): readonly E[] =>
    grouped<'clusterId', E>(items, 'clusterId').get(clusterId) ?? [];
  return [
    ...clusterObjects(plan, clusterId),
    ...own(plan.workloads).map((each) => writeOne('workloads', each)),
    ...own(plan.services).map((each) => writeOne('services', each)),
    ...own(plan.networkPolicies).map((each) => writeOne('networkPolicies', each)),
    ...own(plan.gateways).map((each) => writeOne('gateways', each)),
    ...own(plan.referenceGrants).map((each) => writeOne('referenceGrants', each)),
    ...routeObjects(plan, own(plan.ingressRoutes)),
    ...firstOfEach(exportsOfCluster(plan, clusterId)).map((each) => readKept(each.preserved) ?? exportObject(each)),
    ...importsOfCluster(plan, clusterId).map(importObject),
  ];
}

/** Writes every object of a cluster that the plan holds, as documents of one YAML text in the API versions of today. */
export function writeManifests(plan: Plan, clusterId: string): string {
  return manifestObjects(plan, clusterId)
    .map((object) => stringify(object, { lineWidth: 0, aliasDuplicateObjects: false, compat: 'yaml-1.1' }))
    .join('---\n');
}

function routeObjects(plan: Plan, routes: readonly IngressRoute[]): Draft[] {
  const groups = new Map<string, IngressRoute[]>();
  for (const route of routes) {
    const key = `${route.objectKind} ${route.namespace}/${route.name}`;
    addTo(groups, key, route);
  }
  return [...groups.values()].map((unsorted) => {
    const rules = unsorted.sort((a, b) => a.rule - b.rule);
    const [first] = rules;
    const gateway = plan.gateways.find(({ id }) => id === first?.gatewayId);
    const original = readKept(first?.preserved ?? '');
    if (original === undefined || first === undefined)
      return first?.objectKind === 'Ingress' ? writeIngress(rules) : writeRoute(rules, gateway);
    // As it was read, with what the plan has changed since.
    const services = plan.services.filter(({ clusterId }) => clusterId === first.clusterId);
    return first.objectKind === 'Ingress'
      ? patchedIngress(original, rules, portsOf(services, first.namespace))
      : patchedRoute(original, rules, gateway);
  });
}
