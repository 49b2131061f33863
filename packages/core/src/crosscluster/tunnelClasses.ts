import type { Family } from '../address/index.js';
import { makeTunnel } from '../forwarding/index.js';
import type { Forwarding, Gateway } from '../forwarding/index.js';
import { byId } from '../plan/index.js';
import type { Connection, Member } from '../plan/index.js';
import { changedPrefixes, Distinct, meets } from '../reach/index.js';
import { found, verdictOf } from '../road/index.js';
import type { Failure, Found, TunnelFault, Verdict } from '../road/index.js';

/** What a tunnel or a link between two gateways comes to, for all that forwarding cannot tell apart from them. */
export interface TunnelAnswer {
  readonly isUp: boolean;
  readonly verdict: Verdict;
  /** Largest packet inside it; 0 where it does not come up. */
  readonly inner: number;
  /** What is wrong, and what the lost packet met. */
  readonly fault: TunnelFault['is'] | undefined;
  readonly code: Failure['code'] | undefined;
  /** Whether the member whose id comes first dials. */
  readonly isDialledByFirst: boolean;
}

interface Known {
  readonly answer: TunnelAnswer;
  /** Between whom it was found out. */
  readonly connection: Connection;
  readonly one: Gateway;
  readonly other: Gateway;
  readonly dependsOn: ReadonlySet<string>;
}

/** A pair of classes is one number: more classes than any plan has gateways. */
const MAX_CLASSES = 2 ** 26;

/**
 * Tunnels between gateways by classes: gateways of one network, site and zone with the same filters and the same rows
 * around their addresses come to the same, so that a mesh of n members takes as many walks as it has pairs of classes.
 */
export class TunnelClasses {
  private readonly numbers: Map<string, number>;
  private readonly numberOf = new Map<Gateway, number>();
  private readonly known = new Map<number, Known>();
  private told: Distinct | undefined;

  /** Of a state before that differs in nothing but rules, connections and what is gone in a drill, the numbers of classes are kept. */
  constructor(
    private readonly forwarding: Forwarding,
    before?: TunnelClasses,
  ) {
    const isAlike = before?.told?.knows(changedPrefixes(before.forwarding, forwarding)) === true;
    this.numbers = isAlike ? before.numbers : new Map<string, number>();
    if (isAlike) this.told = new Distinct(forwarding, before.told);
  }

  /** Whether the classes of another state have the numbers that they have here. */
  private isNumberedAs({ numbers }: TunnelClasses): boolean {
    return numbers === this.numbers;
  }

  /**
   * Takes over what tunnels of the state before came to and nothing that changed has a part in, of those that do not
   * come up only where `takesFailing`. Whether each of the others comes to what it did, as far as classes can be compared.
   */
  follow(
    before: TunnelClasses,
    changed: ReadonlySet<string>,
    members: readonly Member[],
    takesFailing: boolean,
  ): boolean {
    const standing = new Map<Gateway, Gateway | undefined>();
    const now = (gateway: Gateway) => {
      if (!standing.has(gateway)) standing.set(gateway, this.sameGateway(gateway));
      return standing.get(gateway);
    };
    const others = new Map<number, Known>();
    for (const [key, known] of before.known) {
      const [one, other] = [now(known.one), now(known.other)];
      const isHeld =
        one !== undefined &&
        other !== undefined &&
        (takesFailing || known.answer.isUp) &&
        !meets(known.dependsOn, changed);
      if (isHeld) this.known.set(this.keyOf(one, other), { ...known, one, other });
      else others.set(key, known);
    }
    return this.isNumberedAs(before) && this.answersAsBefore(members, others);
  }

  /** The answer between the gateways of two members that carry; why there are none. */
  between(connection: Connection, from: Member, to: Member): Found<TunnelAnswer> {
    const ends = this.forwarding.tunnels.ends(from, to);
    if (!ends.ok) return ends;
    const [a, b] = ends.value;
    const [one, other] = a.member.id < b.member.id ? [a, b] : [b, a];
    const key = this.keyOf(one, other);
    const known = this.known.get(key) ?? this.make(connection, one, other);
    this.known.set(key, known);
    this.note(known, one, other);
    return found(known.answer);
  }

  /** The classes of a member’s gateway that carries, by the families its cluster speaks; none where none carries. */
  classesOf(member: Member): readonly number[] {
    const family = byId(this.forwarding.parts.clusters, member.clusterId)?.family;
    const families: readonly Family[] = family === 'dual' ? [4, 6] : [family === 'ipv6' ? 6 : 4];
    return families.flatMap((each) => {
      const gateway = this.forwarding.tunnels.carrying(member, each);
      return gateway.ok ? [this.number(gateway.value)] : [];
    });
  }

  private make(connection: Connection, one: Gateway, other: Gateway): Known {
    const { isUp, fault, failed, from, inner, dependsOn } = makeTunnel(this.forwarding, connection, one, other);
    const answer: TunnelAnswer = {
      isUp,
      verdict: fault === undefined ? 'pass' : failed === undefined ? 'broken' : verdictOf(failed),
      inner: isUp ? inner : 0,
      fault: fault?.is,
      code: failed?.failure.code,
      isDialledByFirst: from === (one.member.id < other.member.id ? one : other),
    };
    return { answer, connection, one, other, dependsOn };
  }

  /** The gateway of a state before as it is now; undefined where it no longer carries. */
  private sameGateway({ member, index, host }: Gateway): Gateway | undefined {
    const now = this.forwarding.tunnels.carrying(member, host.address.family);
    return now.ok && now.value.index === index && now.value.member === member ? now.value : undefined;
  }

  /** Whether pairs of classes that were asked before come to the same between members of these classes now. */
  private answersAsBefore(members: readonly Member[], asked: ReadonlyMap<number, Known>): boolean {
    const ofClass = new Map<number, Member[]>();
    for (const member of members)
      for (const number of this.classesOf(member)) {
        const all = ofClass.get(number) ?? [];
        if (all.length < 2) all.push(member);
        ofClass.set(number, all);
      }
    for (const [key, last] of asked) {
      const [first, second] = [Math.floor(key / MAX_CLASSES), key % MAX_CLASSES];
      const one = ofClass.get(first)?.[0];
      const other = ofClass.get(second)?.find((member) => member !== one);
      const connection = byId(this.forwarding.parts.connections, last.connection.id);
      if (one === undefined || other === undefined || connection === undefined) continue;
      const now = this.known.get(key) ?? this.madeBetween(connection, one, other);
      if (now !== undefined) this.known.set(key, now);
      if (now === undefined || !isSameAnswer(now.answer, last.answer)) return false;
    }
    return true;
  }

  private madeBetween(connection: Connection, one: Member, other: Member): Known | undefined {
    const ends = this.forwarding.tunnels.ends(one, other);
    return ends.ok ? this.make(connection, ends.value[0], ends.value[1]) : undefined;
  }

  /** Whoever wants to know what an answer was held against is told the lists of both gateways, not of those that stood for them. */
  private note({ dependsOn }: Known, one: Gateway, other: Gateway): void {
    const { lists } = this.forwarding;
    lists.note(dependsOn);
    for (const { host } of [one, other]) lists.noteAt(...host.attachable, host.subnet?.id);
  }

  /** Who of two dials first follows the order of their ids, so a pair of classes is asked in that order. */
  private keyOf(one: Gateway, other: Gateway): number {
    const [first, second] = one.member.id < other.member.id ? [one, other] : [other, one];
    return this.number(first) * MAX_CLASSES + this.number(second);
  }

  private number(gateway: Gateway): number {
    const known = this.numberOf.get(gateway);
    if (known !== undefined) return known;
    this.told ??= new Distinct(this.forwarding);
    const { member, index, host } = gateway;
    const whole = [
      member.connectionId,
      // An address that is stated is nobody else’s.
      member.gatewayAddresses[index] === undefined ? '' : `${member.id} ${index}`,
      member.dials,
      host.cluster?.siteId ?? '',
      host.zone,
      host.address.family,
      this.told.numberOf(host, 'asking'),
      this.told.numberOf(host, 'asked'),
    ].join(' ');
    const number = this.numbers.get(whole) ?? this.numbers.size;
    this.numbers.set(whole, number);
    this.numberOf.set(gateway, number);
    return number;
  }
}

function isSameAnswer(a: TunnelAnswer, b: TunnelAnswer): boolean {
  return a.verdict === b.verdict && a.inner === b.inner && a.fault === b.fault && a.code === b.code;
}
