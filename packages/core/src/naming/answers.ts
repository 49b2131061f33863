import { internetHost } from '../forwarding/index.js';
import { byId } from '../plan/index.js';
import type { RecordType } from '../zones/index.js';
import type { HeldNames } from './heldNames.js';
import { askerOf, resolve } from './resolve.js';
import type { Asker, Resolution } from './resolve.js';
import { isTouched, touchedBy } from './touched.js';
import type { Touched } from './touched.js';

/** What answers to machines follow from, beside records and the ways to whom is asked. */
const reads = ['zones', 'forwardingRules', 'resolvers', 'profiles', 'networks', 'balancers'] as const;

interface Last {
  readonly known: ReadonlyMap<string, Resolution>;
  readonly touching: readonly Touched[];
  readonly isSameWays: boolean;
}

/** What machines of a network and clients on the internet get for names: kept from edit to edit while nothing that it follows from has changed. */
export class Answers {
  private readonly known = new Map<string, Resolution>();
  /** Whether any of them hangs on the ways to who was asked. */
  private isAnyByWays = false;
  private readonly last: Last | undefined;

  constructor(
    private readonly state: HeldNames,
    before?: HeldNames & { readonly answers: Answers },
  ) {
    const { edited } = state;
    if (before === undefined || edited === undefined) return;
    if (!reads.every((part) => before.parts[part] === state.parts[part])) return;
    this.last = {
      known: before.answers.known,
      touching: touchedBy(before, state, edited),
      isSameWays: before.forwarding === state.forwarding,
    };
  }

  /** Whether every answer is as it was in another state, so that none has to be compared. */
  follows(before: Answers): boolean {
    const { last } = this;
    return last?.known === before.known && last.touching.length === 0 && (last.isSameWays || !before.isAnyByWays);
  }

  /** What a machine of a network gets, or with an empty id a client on the internet. */
  of(networkId: string, name: string, type: RecordType): Resolution {
    const key = `${networkId} ${type} ${name}`;
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const made = this.lastOf(key) ?? resolve(this.state, this.askerIn(networkId), name, type);
    this.known.set(key, made);
    this.isAnyByWays ||= made.isByWays;
    return made;
  }

  /** Who asks there. */
  askerIn(networkId: string): Asker {
    return networkId === '' ? askerOf(internetHost()) : networkAsker(this.state, networkId);
  }

  private lastOf(key: string): Resolution | undefined {
    const { last } = this;
    const found = last?.known.get(key);
    if (last === undefined || found === undefined || (found.isByWays && !last.isSameWays)) return undefined;
    return last.touching.length > 0 && namesIn(found).some((name) => isTouched(last.touching, name))
      ? undefined
      : found;
  }
}

/** Names that an answer hangs on: each that was asked, those that aliases lead to, servers of delegations. */
function namesIn({ queries, records, servers }: Resolution): string[] {
  return [...queries.map(({ name }) => name), ...records.flatMap(({ target }) => target ?? []), ...servers];
}

/** A machine of a network that asks for names. */
export function networkAsker(state: HeldNames, networkId: string): Asker {
  const network = byId(state.parts.networks, networkId);
  return {
    label: `a machine of ${network?.name ?? ''}`,
    networkId,
    host: state.machineIn(networkId),
    pod: undefined,
  };
}
