import { parentOf } from './names.js';
import type { AnyType } from './rdata.js';
import type { Rr, ZoneTree } from './zoneTree.js';

/** Aliases followed one after the other before a chain counts as endless; common practice of resolvers is 8 to 16. */
export const MAX_ALIASES = 16;

/** How a question ends at a server that has some zones. */
type SetOutcome = 'answer' | 'no data' | 'no name' | 'referral' | 'not here' | 'loop';

/** What a server that has some zones says of a name and a type. */
export interface SetAnswer {
  readonly outcome: SetOutcome;
  /** Aliases that were followed, then the records asked for, in their order. */
  readonly records: readonly Rr[];
  /** The name at which it ended: where the records are, what does not exist, or what another server is to be asked for. */
  readonly at: string;
  /** The zone that said it last; undefined where none is for the name. */
  readonly zone: ZoneTree | undefined;
  /** Wildcards that records were made from. */
  readonly wildcards: readonly string[];
  readonly delegation: readonly Rr[];
}

/** Zones that one server answers for: the closest one answers, and an alias starts the question again. Source: RFC 1034 4.3.2. */
export class ZoneSet {
  private readonly byApex: ReadonlyMap<string, ZoneTree>;

  constructor(zones: Iterable<ZoneTree>) {
    this.byApex = new Map([...zones].map((zone) => [zone.apex, zone]));
  }

  /** The zone whose apex is the longest end of a name; undefined where none is for it. */
  closest(name: string): ZoneTree | undefined {
    for (let at: string | undefined = name; at !== undefined; at = parentOf(at)) {
      const zone = this.byApex.get(at);
      if (zone !== undefined) return zone;
    }
    return undefined;
  }

  ask(name: string, type: AnyType): SetAnswer {
    const records: Rr[] = [];
    const wildcards: string[] = [];
    let at = name;
    for (let zone = this.closest(at); ; zone = this.closest(at)) {
      const end = (outcome: SetOutcome, delegation: readonly Rr[] = []): SetAnswer => ({
        outcome,
        records,
        at,
        zone,
        wildcards,
        delegation,
      });
      if (zone === undefined) return end('not here');
      const said = zone.lookUp(at, type);
      records.push(...said.records);
      if (said.wildcard !== undefined) wildcards.push(said.wildcard);
      if (said.outcome !== 'alias') return end(said.outcome, said.delegation);
      const target = said.records[0]?.target ?? '';
      if (records.length > MAX_ALIASES || records.some((record) => record.name === target && record.type === 'CNAME'))
        return end('loop');
      at = target;
    }
  }
}
