import type { FullThing, Refusal } from '../english/index.js';
import type { BuildStep, Kind } from '../plan/index.js';

/** What comes to be in a rehearsal. */
export type ObjectKind = keyof typeof stagesOf;

/** A condition of an object, as the Kubernetes API has them: its type. */
export type ConditionType =
  | 'Accepted'
  | 'AddressAssigned'
  | 'Available'
  | 'Checked'
  | 'EndpointsReady'
  | 'Established'
  | 'Healthy'
  | 'Imported'
  | 'Joined'
  | 'Programmed'
  | 'Provisioned'
  | 'Published'
  | 'Ready'
  | 'Registered'
  | 'ResolvedRefs'
  | 'Validated';

type Stages = readonly (readonly [condition: ConditionType, step: BuildStep])[];

const made = (step: BuildStep): Stages => [['Ready', step]];
const stored: Stages = [['Accepted', 'object']];

/** The conditions of each object in their order, and the step by which each comes true. */
export const stagesOf = {
  account: [['Checked', 'account check']],
  network: made('network'),
  'address block': made('address block'),
  subnet: made('subnet'),
  link: made('link'),
  attachment: made('attachment'),
  'route table': made('route table'),
  route: made('route'),
  'NAT device': made('NAT device'),
  firewall: made('firewall'),
  filter: made('filter'),
  rule: made('rule'),
  'private endpoint': made('private endpoint'),
  bastion: made('bastion'),
  'virtual address': [['AddressAssigned', 'virtual address']],
  'control node': made('control node'),
  'control plane': [['Available', 'hosted control plane']],
  'API server': [['Available', 'health check']],
  'pod network': [['Available', 'pod network']],
  node: [
    ['Provisioned', 'node machine'],
    ['Registered', 'node registration'],
    ['Ready', 'node readiness'],
  ],
  'cluster DNS': [['Available', 'cluster DNS']],
  workload: [
    ['Accepted', 'object'],
    ['Available', 'pods'],
  ],
  service: [
    ['Accepted', 'object'],
    ['EndpointsReady', 'object'],
  ],
  'network policy': stored,
  'reference grant': stored,
  'load balancer': [
    ['AddressAssigned', 'balancer address'],
    ['Programmed', 'load balancer'],
  ],
  backend: [
    ['Programmed', 'backend'],
    ['Healthy', 'health check'],
  ],
  listener: [['Programmed', 'listener']],
  controller: [
    ['Accepted', 'object'],
    ['Available', 'pods'],
  ],
  gateway: [
    ['Accepted', 'object'],
    ['Programmed', 'object'],
  ],
  'ingress route': [
    ['Accepted', 'object'],
    ['ResolvedRefs', 'object'],
  ],
  zone: made('zone'),
  record: [['Published', 'record']],
  certificate: [
    ['Validated', 'validation'],
    ['Ready', 'certificate'],
  ],
  'record controller': [['Available', 'pods']],
  resolver: made('resolver'),
  'forwarding rule': made('object'),
  connection: [
    ['Accepted', 'connection'],
    ['Established', 'tunnels'],
  ],
  member: [['Joined', 'member']],
  'exported service': [
    ['Accepted', 'object'],
    ['Imported', 'object'],
  ],
} as const satisfies Readonly<Record<string, Stages>>;

/** One object of a rehearsal; its steps are the tasks from `first` on. */
export interface RehearsalObject {
  readonly index: number;
  readonly kind: ObjectKind;
  /** What it is known by: the same in every run of the plan. */
  readonly key: string;
  readonly name: string;
  /** The entity it stands for; undefined for a part of one, such as a node. */
  readonly entity: { readonly kind: Kind; readonly id: string } | undefined;
  /** Empty where it is of no cluster. */
  readonly clusterId: string;
  /** Empty where it is at no site. */
  readonly siteId: string;
  readonly first: number;
}

/** What is said of an object when it is added. */
export type NewObject = Omit<RehearsalObject, 'index' | 'first'>;

/** One step of an object. */
export interface Task {
  readonly object: number;
  readonly step: BuildStep;
  readonly condition: ConditionType;
  /** The tasks that must be done before. */
  readonly needs: number[];
  /** The number of what it takes one of; -1 for nothing. */
  store: number;
  refusal: Refusal | undefined;
}

/** What tasks take from, one each. */
export interface Store {
  readonly of: FullThing;
  readonly name: string;
  readonly holds: number;
  readonly key: string;
}

/** Objects with their steps, and what waits for what. */
export class Graph {
  readonly objects: RehearsalObject[] = [];
  readonly tasks: Task[] = [];
  readonly stores: Store[] = [];
  private readonly byKey = new Map<string, RehearsalObject>();

  /** Adds an object with its steps, each after the one before; one that is there already stays. */
  add(of: NewObject): RehearsalObject {
    const known = this.byKey.get(of.key);
    if (known !== undefined) return known;
    const object: RehearsalObject = { ...of, index: this.objects.length, first: this.tasks.length };
    this.objects.push(object);
    this.byKey.set(of.key, object);
    stagesOf[of.kind].forEach(([condition, step], at) => {
      const needs = at === 0 ? [] : [this.tasks.length - 1];
      this.tasks.push({ object: object.index, step, condition, needs, store: -1, refusal: undefined });
    });
    return object;
  }

  /** An object by its key. */
  object(key: string): RehearsalObject | undefined {
    return this.byKey.get(key);
  }

  /** Another name for an object, such as a subnet that is a range of a cluster too. */
  alias(key: string, object: RehearsalObject): void {
    this.byKey.set(key, object);
  }

  /** The number of the step that makes a condition true; that of its last one when none is named, undefined where there is none. */
  taskOf(key: string, condition?: ConditionType): number | undefined {
    const object = this.byKey.get(key);
    if (object === undefined) return undefined;
    const stages: Stages = stagesOf[object.kind];
    if (condition === undefined) return object.first + stages.length - 1;
    const at = stages.findIndex(([each]) => each === condition);
    return at < 0 ? undefined : object.first + at;
  }

  /** Has one step wait for others; undefined ones are not there to be waited for. */
  wait(task: number | undefined, ...others: readonly (number | undefined)[]): void {
    const own = this.tasks[task ?? -1];
    if (own === undefined) return;
    for (const other of others)
      if (other !== undefined && other !== task && !own.needs.includes(other)) own.needs.push(other);
  }

  /** Has a step never come to be; the first reason stays. */
  refuse(task: number | undefined, refusal: Refusal): void {
    const own = this.tasks[task ?? -1];
    if (own !== undefined) own.refusal ??= refusal;
  }

  /** Adds something that steps take from; gives its number. */
  addStore(store: Store): number {
    return this.stores.push(store) - 1;
  }

  /** Has a step take one of a store. */
  take(task: number | undefined, store: number): void {
    const own = this.tasks[task ?? -1];
    if (own !== undefined) own.store = store;
  }
}
