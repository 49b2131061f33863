import {
  compareAddresses,
  formatAddress,
  formatPrefix,
  isSamePrefix,
  parsePrefix,
  prefixAround,
  specialBlocks,
  subtract,
} from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { addOperation, newId, prefixList, rangeOf, withFallbacks } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { Forwarding } from '../forwarding/index.js';
import type { Failed, Packet } from '../road/index.js';
import type { NamedFor } from './mendSteps.js';

/** What a rule names at one side. */
export interface Named {
  readonly prefixes: readonly string[];
  readonly setIds: readonly string[];
  readonly as: NamedFor;
  /** Rows that come with it. */
  readonly made: readonly Operation[];
}

/** Prefixes of a need that one rule names. */
const MAX_NAMED = 200;
const PUBLIC_SET = 'public internet';

let known: readonly string[] | undefined;

/** IPv4 without what cannot be met on the internet; space for documents stands for public addresses, as it does in examples. */
function publicSpace(): string[] {
  known ??= subtract(
    expectGood(parsePrefix('0.0.0.0/0')),
    specialBlocks
      .filter(({ prefix, use }) => prefix.family === 4 && use !== 'documentation')
      .map(({ prefix }) => prefix),
  ).map(formatPrefix);
  return [...known];
}

/** What stands around a failed packet. */
export class Places {
  readonly forwarding: Forwarding;

  constructor(
    readonly plan: Plan,
    readonly failed: Failed,
    /** As it was sent: what stands for the internet there was asked or asks; later on it is an address that is not decided. */
    private readonly sent: Packet | undefined,
    private readonly typed: ReadonlySet<string>,
  ) {
    this.forwarding = Forwarding.of(plan);
  }

  /** The range that an address belongs to in some network of the plan, else the address alone. */
  rangeAround(address: Address): Prefix {
    for (const { id } of this.plan.networks) {
      const holder = this.forwarding.space(id).holderOf(address);
      if (holder !== undefined && holder.kind !== 'block') return holder.prefix;
    }
    return this.needAround(address)[0] ?? prefixAround(address, address.family === 4 ? 32 : 128);
  }

  /**
   * What an address stands for: all of the internet (of IPv6 its global unicast space, RFC 4291 2.4), itself where it was typed, else
   * the range it belongs to.
   */
  standsFor(address: Address): { readonly prefixes: readonly Prefix[]; readonly as: NamedFor } {
    if (this.isStandIn(address))
      return { prefixes: prefixList(address.family === 4 ? publicSpace() : ['2000::/3']), as: { is: 'internet' } };
    const own = this.typed.has(formatAddress(address))
      ? prefixAround(address, address.family === 4 ? 32 : 128)
      : this.rangeAround(address);
    return { prefixes: [own], as: { is: 'prefixes', prefixes: [formatPrefix(own)] } };
  }

  /** All prefixes of the need that an address is of, the one around it first. */
  private needAround(address: Address): Prefix[] {
    const isAround = (prefix: Prefix) =>
      prefix.family === address.family && isSamePrefix(prefixAround(address, prefix.length), prefix);
    const own =
      this.plan.needs.map(({ prefixes }) => prefixList(prefixes)).find((prefixes) => prefixes.some(isAround)) ?? [];
    return [...own.filter(isAround), ...own.filter((each) => !isAround(each) && each.family === address.family)];
  }

  /**
   * What a rule has to name for an address: of the internet all of it, as a set that the plan keeps, since an address that stands for it
   * is nobody’s; of a need all of its prefixes; else the range it belongs to. None for an address that a translation put there undecided.
   */
  named(address: Address, denied: readonly string[] = []): Named | undefined {
    if (this.isStandIn(address)) return this.isOfInternet ? this.internet() : undefined;
    const alone = this.narrower(address, denied);
    if (alone !== undefined) return ofPrefixes([alone]);
    const holder = formatPrefix(this.rangeAround(address));
    const need = this.needAround(address).map(formatPrefix);
    const prefixes = need[0] === holder ? need.slice(0, MAX_NAMED) : [holder];
    return ofPrefixes(prefixes);
  }

  /** The address alone where it was typed; else what a rule that denies names of its range, so that no more of it is undone. */
  private narrower(address: Address, denied: readonly string[]): string | undefined {
    if (this.typed.has(formatAddress(address)))
      return formatPrefix(prefixAround(address, address.family === 4 ? 32 : 128));
    const { length } = this.rangeAround(address);
    const around = prefixList(denied).find(
      (prefix) =>
        prefix.family === address.family &&
        prefix.length > length &&
        isSamePrefix(prefixAround(address, prefix.length), prefix),
    );
    return around === undefined ? undefined : formatPrefix(around);
  }

  private isStandIn(address: Address): boolean {
    return this.forwarding.internet.some((each) => compareAddresses(each, address) === 0);
  }

  private get isOfInternet(): boolean {
    return this.sent !== undefined && (this.isStandIn(this.sent.source) || this.isStandIn(this.sent.destination));
  }

  private internet(): Named {
    const standing = this.plan.prefixSets.find(({ prefixes }) => prefixes.join() === publicSpace().join());
    if (standing !== undefined)
      return { prefixes: [], setIds: [standing.id], as: { is: 'set', set: standing.name }, made: [] };
    // oxlint-disable-next-line sentences/none -- the plan keeps it as the note of the set.
    const note = 'All of IPv4 without private, shared and special space (RFC 6890)';
    const made = withFallbacks('prefixSets', { id: newId(), name: PUBLIC_SET, prefixes: publicSpace(), note });
    return {
      prefixes: [],
      setIds: [made.id],
      as: { is: 'set', set: PUBLIC_SET },
      made: [addOperation('prefixSets', made)],
    };
  }

  /** The node ranges that packets come from between a cluster's nodes, since any of them may send; else what is named for the address. */
  peersOf(address: Address, denied: readonly string[]): Named | undefined {
    const { tunnelOf } = this.failed;
    if (tunnelOf === undefined) return this.named(address, denied);
    const prefixes = this.forwarding
      .rangesOf(tunnelOf)
      .filter((range) => range.purpose === 'node' && rangeOf(range).family === address.family)
      .map(({ prefix }) => prefix);
    return ofPrefixes(prefixes);
  }

  /** The network that holds an address. */
  ownerOf(address: Address): string | undefined {
    return this.plan.networks.find(({ id }) => {
      const holder = this.forwarding.space(id).holderOf(address);
      return holder !== undefined && holder.kind !== 'block';
    })?.id;
  }
}

/** Prefixes that a rule names itself. */
function ofPrefixes(prefixes: readonly string[]): Named {
  return { prefixes, setIds: [], as: { is: 'prefixes', prefixes }, made: [] };
}
