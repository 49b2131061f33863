import { isWithin, parentOf } from './names.js';
import type { AnyType } from './rdata.js';

/** One record of a zone. */
export interface Rr {
  /** Full, in small letters, without a final dot. */
  readonly name: string;
  readonly type: AnyType;
  /** Seconds. */
  readonly ttl: number;
  readonly value: string;
  readonly target: string | undefined;
}

/** What a zone holds at one name. */
interface Node {
  readonly sets: ReadonlyMap<AnyType, readonly Rr[]>;
  /** Its records as they were given, each with the TTL of its own: what a set has when one of them goes. */
  readonly given: readonly Rr[];
  /** Names below it that have records: a name without records of its own exists while it has some (RFC 4592 2.2.2). */
  readonly below: number;
}

/** What one zone says of a name and a type, without following an alias. */
export interface ZoneAnswer {
  readonly outcome: 'answer' | 'alias' | 'no data' | 'no name' | 'referral';
  /** The records asked for, or the alias that stands in their place. */
  readonly records: readonly Rr[];
  /** The wildcard that the records were made from; undefined where none was. */
  readonly wildcard: string | undefined;
  /** For a referral: the records of the delegation. */
  readonly delegation: readonly Rr[];
}

const nothing: Node = { sets: new Map(), given: [], below: 0 };

/** Names that were changed before they are put with the others. */
const MAX_APART = 256;

/**
 * One zone, compiled so that a name is found at once whatever their number. An edit makes only its own names anew, laid over the others.
 * Source: RFC 1034 4.3.2 for the order of steps, RFC 4592 for wildcards, RFC 2308 for names and types that are not there.
 */
export class ZoneTree {
  private constructor(
    readonly apex: string,
    private readonly base: ReadonlyMap<string, Node>,
    private readonly apart: ReadonlyMap<string, Node>,
    /** Whether some name below the apex may be delegated: most zones have none, and look for none. */
    private readonly hasCuts: boolean,
  ) {}

  /** Records outside the apex are left out. */
  static of(apex: string, records: Iterable<Rr>): ZoneTree {
    const sets = new Map<string, Map<AnyType, Rr[]>>();
    const below = new Map<string, number>();
    let hasCuts = false;
    for (const record of records) {
      if (!isWithin(record.name, apex)) continue;
      hasCuts ||= record.type === 'NS' && record.name !== apex;
      const known = sets.get(record.name);
      if (known === undefined) {
        sets.set(record.name, new Map([[record.type, [record]]]));
        for (const above of ancestors(record.name, apex)) below.set(above, (below.get(above) ?? 0) + 1);
      } else {
        const set = known.get(record.type);
        if (set === undefined) known.set(record.type, [record]);
        else set.push(record);
      }
    }
    const nodes = new Map<string, Node>();
    for (const name of new Set([...sets.keys(), ...below.keys(), apex]))
      nodes.set(name, {
        sets: evened(sets.get(name)),
        given: [...(sets.get(name)?.values() ?? [])].flat(),
        below: below.get(name) ?? 0,
      });
    return new ZoneTree(apex, nodes, new Map(), hasCuts);
  }

  /** The zone after an edit of some records. */
  after(gone: readonly Rr[], come: readonly Rr[]): ZoneTree {
    const apart = new Map(this.apart);
    const hasCuts = this.hasCuts || come.some(({ type, name }) => type === 'NS' && name !== this.apex);
    const nodeAt = (name: string) => apart.get(name) ?? this.base.get(name) ?? nothing;
    for (const name of new Set([...gone, ...come].map((record) => record.name))) {
      if (!isWithin(name, this.apex)) continue;
      const node = nodeAt(name);
      const left = gone.filter((record) => record.name === name);
      // Of two that are alike, such as a server that the zone names as well, one is left.
      const stays = node.given.filter((record) => {
        const at = left.findIndex((each) => isSame(each, record));
        if (at >= 0) left.splice(at, 1);
        return at < 0;
      });
      const given = [...stays, ...come.filter((each) => each.name === name)];
      const sets = new Map<AnyType, Rr[]>();
      for (const record of given) sets.set(record.type, [...(sets.get(record.type) ?? []), record]);
      apart.set(name, { sets: evened(sets), given, below: node.below });
      const step = Number(sets.size > 0) - Number(node.sets.size > 0);
      if (step === 0) continue;
      for (const above of ancestors(name, this.apex)) {
        const of = nodeAt(above);
        apart.set(above, { ...of, below: of.below + step });
      }
    }
    return apart.size <= MAX_APART
      ? new ZoneTree(this.apex, this.base, apart, hasCuts)
      : new ZoneTree(this.apex, new Map([...this.base, ...apart]), new Map(), hasCuts);
  }

  /** The records of one type at a name, whether or not a delegation stands above it; none where there are none. */
  setAt(name: string, type: AnyType): readonly Rr[] {
    return this.node(name)?.sets.get(type) ?? [];
  }

  /** Whether a name has records, or names below it have. */
  exists(name: string): boolean {
    return this.node(name) !== undefined;
  }

  /** Every record, in no particular order. */
  records(): Rr[] {
    const names = new Set([...this.base.keys(), ...this.apart.keys()]);
    return [...names].flatMap((name) => [...(this.node(name)?.sets.values() ?? [])].flat());
  }

  /** Every record of some types. */
  ofTypes(types: readonly AnyType[]): Rr[] {
    const names = new Set([...types.flatMap((type) => namesIn(this.base, type)), ...this.apart.keys()]);
    return [...names].flatMap((name) => types.flatMap((type) => this.setAt(name, type)));
  }

  /** The wildcards that have records. */
  wildcards(): string[] {
    const names = new Set([...namesIn(this.base, '*'), ...this.apart.keys()]);
    return [...names].filter((name) => name.startsWith('*.') && (this.node(name)?.sets.size ?? 0) > 0);
  }

  /** Seconds that a negative answer lives: the smaller of the SOA’s own TTL and its last field. Source: RFC 2308 5. */
  negativeTtl(): number {
    const [soa] = this.setAt(this.apex, 'SOA');
    return soa === undefined ? 0 : Math.min(soa.ttl, Number(soa.value.split(' ').at(-1)));
  }

  /** What the zone says of a name, its apex or below it, and a type. */
  lookUp(name: string, type: AnyType): ZoneAnswer {
    const cut = this.hasCuts ? this.cutAbove(name) : undefined;
    if (cut !== undefined)
      return { outcome: 'referral', records: [], wildcard: undefined, delegation: this.setAt(cut, 'NS') };
    const moved = this.movedBy(name);
    if (moved !== undefined) return moved;
    const found = this.source(name);
    const end = (outcome: ZoneAnswer['outcome'], records: readonly Rr[] = []): ZoneAnswer => ({
      outcome,
      records,
      wildcard: found?.wildcard,
      delegation: [],
    });
    if (found === undefined) return end('no name');
    const own = (records: readonly Rr[]) =>
      found.wildcard === undefined ? records : records.map((record) => ({ ...record, name }));
    const aliases = found.node.sets.get('CNAME');
    if (aliases !== undefined && type !== 'CNAME') return end('alias', own(aliases.slice(0, 1)));
    const set = found.node.sets.get(type);
    return set === undefined ? end('no data') : end('answer', own(set));
  }

  /** A name below a DNAME is an alias, made for the name that is asked. Source: RFC 6672 2.2 and 3.1. */
  private movedBy(name: string): ZoneAnswer | undefined {
    for (let at = parentOf(name); at !== undefined && isWithin(at, this.apex); at = parentOf(at)) {
      const [dname] = this.setAt(at, 'DNAME');
      if (dname?.target === undefined) continue;
      const target = `${name.slice(0, -at.length)}${dname.target}`;
      const alias: Rr = { name, type: 'CNAME', ttl: dname.ttl, value: target, target };
      return { outcome: 'alias', records: [alias], wildcard: undefined, delegation: [] };
    }
    return undefined;
  }

  private node(name: string): Node | undefined {
    const found = this.apart.get(name) ?? this.base.get(name);
    return found === undefined || (found.sets.size === 0 && found.below === 0 && name !== this.apex)
      ? undefined
      : found;
  }

  /** The highest name from below the apex down to this one that is delegated. */
  private cutAbove(name: string): string | undefined {
    let cut: string | undefined;
    for (let at: string | undefined = name; at !== undefined && at !== this.apex; at = parentOf(at))
      if ((this.apart.get(at) ?? this.base.get(at))?.sets.has('NS') === true) cut = at;
    return cut;
  }

  /** The node of a name, or the wildcard below the closest name that exists. Source: RFC 4592 3.3.1. */
  private source(name: string): { readonly node: Node; readonly wildcard: string | undefined } | undefined {
    const exact = this.node(name);
    if (exact !== undefined) return { node: exact, wildcard: undefined };
    let above = parentOf(name);
    while (above !== undefined && this.node(above) === undefined) above = parentOf(above);
    if (above === undefined) return undefined;
    const wildcard = above === '' ? '*' : `*.${above}`;
    const node = this.node(wildcard);
    return node === undefined ? undefined : { node, wildcard };
  }
}

const namesOf = new WeakMap<object, ReadonlyMap<string, readonly string[]>>();

/** The names that have records of a type, and under * all wildcards; gathered once for what edits are laid over. */
function namesIn(base: ReadonlyMap<string, Node>, type: AnyType | '*'): readonly string[] {
  let known = namesOf.get(base);
  if (known === undefined) {
    const made = new Map<string, string[]>();
    const put = (key: string, name: string) => {
      const names = made.get(key);
      if (names === undefined) made.set(key, [name]);
      else names.push(name);
    };
    for (const [name, { sets }] of base) {
      for (const key of sets.keys()) put(key, name);
      if (name.startsWith('*.')) put('*', name);
    }
    known = made;
    namesOf.set(base, known);
  }
  return known.get(type) ?? [];
}

/** The names above one, up to the apex and with it. */
function* ancestors(name: string, apex: string): Generator<string> {
  for (let at = name; at !== apex;) {
    const above = parentOf(at);
    if (above === undefined) return;
    yield above;
    at = above;
  }
}

/** Sets of which each record has the same TTL, the lowest of them. Source: RFC 2181 5.2. */
function evened(sets: ReadonlyMap<AnyType, readonly Rr[]> | undefined): ReadonlyMap<AnyType, readonly Rr[]> {
  const even = new Map<AnyType, readonly Rr[]>();
  for (const [type, records] of sets ?? []) {
    const ttl = Math.min(...records.map((record) => record.ttl));
    const seen = new Set<string>();
    const once = records.filter(({ value }) => !seen.has(value) && seen.add(value));
    even.set(
      type,
      once.map((record) => (record.ttl === ttl ? record : { ...record, ttl })),
    );
  }
  return even;
}

function isSame(a: Rr, b: Rr): boolean {
  return a.type === b.type && a.value === b.value;
}
