import { createHash } from 'node:crypto';
import { LIMITS } from '../limits.js';
import type { World } from '../world.js';
import { objectsOf } from './objects.js';
import type { KubeObject } from './resources.js';

/** A change of one object. */
export interface KubeEvent {
  readonly type: 'ADDED' | 'MODIFIED' | 'DELETED';
  readonly version: number;
  readonly object: KubeObject;
}

interface Held {
  readonly object: KubeObject;
  /** What it holds apart from its version. */
  readonly text: string;
}

/** The objects of a cluster as the plan has them now, and what changed in them since the start, change by change. */
export class ObjectStore {
  private held = new Map<string, Held>();
  private events: KubeEvent[] = [];
  private count = 1;
  private readonly createdAt = `${new Date().toISOString().slice(0, 19)}Z`;
  private readonly watchers = new Set<(event: KubeEvent) => void>();

  constructor(
    private readonly world: World,
    private readonly clusterId: string,
  ) {
    this.renew(true);
    world.onChange(() => {
      this.renew(false);
    });
  }

  /** The version of the latest change. */
  get version(): number {
    return this.count;
  }

  ofKind(kind: string): KubeObject[] {
    return [...this.held.values()].flatMap(({ object }) => (object.kind === kind ? [object] : []));
  }

  /** The changes after a version; undefined where they are no longer known. */
  since(version: number): readonly KubeEvent[] | undefined {
    const [first] = this.events;
    if (version >= this.count) return [];
    return first === undefined || first.version > version + 1
      ? undefined
      : this.events.filter((event) => event.version > version);
  }

  /** Tells each change from now on, until what it gives is called. */
  watch(run: (event: KubeEvent) => void): () => void {
    this.watchers.add(run);
    return () => this.watchers.delete(run);
  }

  private renew(isFirst: boolean): void {
    const next = new Map<string, Held>();
    const told: KubeEvent[] = [];
    const tell = (type: KubeEvent['type'], object: KubeObject, version: number) => {
      if (!isFirst) told.push({ type, version, object });
    };
    for (const made of objectsOf(this.world.evaluated, this.clusterId, this.createdAt)) {
      const { kind, metadata } = made;
      const key = `${kind} ${metadata.namespace ?? ''}/${metadata.name}`;
      const text = JSON.stringify(made);
      const last = this.held.get(key);
      if (last?.text === text) {
        next.set(key, last);
        continue;
      }
      const version = isFirst ? this.count : ++this.count;
      const object: KubeObject = {
        ...made,
        metadata: {
          ...metadata,
          uid: uidOf(`${this.clusterId} ${key}`),
          resourceVersion: String(version),
          creationTimestamp: this.createdAt,
        },
      };
      next.set(key, { object, text });
      tell(last === undefined ? 'ADDED' : 'MODIFIED', object, version);
    }
    for (const [key, { object }] of this.held) {
      if (next.has(key)) continue;
      const version = ++this.count;
      tell('DELETED', { ...object, metadata: { ...object.metadata, resourceVersion: String(version) } }, version);
    }
    this.held = next;
    this.events = [...this.events, ...told].slice(-LIMITS.watched);
    for (const event of told) for (const run of this.watchers) run(event);
  }
}

/** The same for the same object, in the form that clients expect. */
function uidOf(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)].join('-');
}
