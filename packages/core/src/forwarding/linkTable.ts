import { formatPrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import type { Attachment, Link } from '../plan/index.js';
import { isSameList } from '../section/index.js';
import { RowLookup } from './rowLookup.js';

/** What a link's members advertise on it, compiled for look-ups. */
export interface LinkTable {
  readonly link: Link;
  readonly members: readonly LinkMember[];
  readonly rows: LinkRows;
}

export interface LinkMember {
  readonly networkId: string;
  readonly attachment: Attachment | undefined;
  readonly advertised: readonly Prefix[];
}

/** One prefix that a network advertises on a link. */
export interface LinkRow {
  readonly prefix: Prefix;
  readonly networkId: string;
  readonly attachmentId: string;
  /** Its place among the rows of the link. */
  readonly place: number;
}

/** Members whose rows stand beside the others before all are put in order again. */
const MAX_PATCHED = 8;
/** Rows of one member at most, so that a place is told by the member and the place in its list. */
const MAX_ROWS = 1 << 20;

/** Rows of one member, or of all, with their look-up, made when it is first asked for. */
class Rows {
  private made: RowLookup | undefined;

  constructor(readonly rows: readonly LinkRow[]) {}

  get lookup(): RowLookup {
    return (this.made ??= new RowLookup(this.rows.map(({ prefix }) => prefix)));
  }
}

/**
 * The rows of a link. After an edit those of the few members that say something else stand beside the others, which keep their
 * look-up: on a link of a thousand networks it takes long to make.
 */
export class LinkRows {
  private constructor(
    private readonly members: readonly LinkMember[],
    private readonly base: Rows,
    /** Of members that say something else than in the base. */
    private readonly patches: ReadonlyMap<string, Rows>,
  ) {}

  static of(members: readonly LinkMember[]): LinkRows {
    return new LinkRows(members, new Rows(members.flatMap(rowsOf)), new Map());
  }

  /** The rows of the same members after an edit; undefined where they are others. */
  with(members: readonly LinkMember[]): LinkRows | undefined {
    const patches = new Map(this.patches);
    for (const [at, member] of members.entries()) {
      const last = this.members[at];
      if (last?.networkId !== member.networkId || last.attachment !== member.attachment) return undefined;
      if (!isSameList(last.advertised, member.advertised)) patches.set(member.networkId, new Rows(rowsOf(member, at)));
    }
    if (members.length !== this.members.length || patches.size > MAX_PATCHED) return undefined;
    return new LinkRows(members, this.base, patches);
  }

  /** Every row, in the order of the members. */
  get all(): readonly LinkRow[] {
    if (this.patches.size === 0) return this.base.rows;
    return this.members.flatMap((member, at) => this.patches.get(member.networkId)?.rows ?? rowsOf(member, at));
  }

  /** The rows that hold an address, the longest first; of equal prefixes the one that stands first. */
  around(address: Address): readonly LinkRow[] {
    const found = this.found((lookup) => lookup.all(address));
    // A look-up of all has them in order already.
    if (this.patches.size === 0) return found;
    return found.sort((a, b) => b.prefix.length - a.prefix.length || a.place - b.place);
  }

  /** The rows that lie in a prefix, in no order. */
  inside(prefix: Prefix): readonly LinkRow[] {
    return this.found((lookup) => lookup.inside(prefix));
  }

  private found(ask: (lookup: RowLookup) => readonly number[]): LinkRow[] {
    const of = ({ rows, lookup }: Rows) => ask(lookup).flatMap((at) => rows[at] ?? []);
    const found = of(this.base);
    if (this.patches.size === 0) return found;
    return [
      ...found.filter(({ networkId }) => !this.patches.has(networkId)),
      ...[...this.patches.values()].flatMap(of),
    ];
  }
}

/** What a member advertises, each prefix once. */
function rowsOf({ networkId, attachment, advertised }: LinkMember, member: number): LinkRow[] {
  const seen = new Set<string>();
  return advertised.flatMap((prefix, at) => {
    const key = formatPrefix(prefix);
    if (seen.has(key)) return [];
    seen.add(key);
    return [{ prefix, networkId, attachmentId: attachment?.id ?? '', place: member * MAX_ROWS + at }];
  });
}

/** What is advertised on a link; `last` is the table of the state before. */
export function compileLink(link: Link, members: readonly LinkMember[], last: LinkTable | undefined): LinkTable {
  const followed = last?.link === link ? last.rows.with(members) : undefined;
  return { link, members, rows: followed ?? LinkRows.of(members) };
}

/** Whether members say the same as before. */
export function isSameMembers(a: readonly LinkMember[], b: readonly LinkMember[]): boolean {
  return (
    a.length === b.length &&
    a.every((each, at) => {
      const other = b[at];
      if (other === undefined || other.networkId !== each.networkId || other.attachment !== each.attachment)
        return false;
      return (
        // Equal prefixes are one object.
        isSameList(each.advertised, other.advertised) ||
        (each.attachment !== undefined && each.attachment.advertises.length > 0)
      );
    })
  );
}
