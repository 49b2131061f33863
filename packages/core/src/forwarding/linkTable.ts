import { formatPrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import type { Attachment, Link } from '../plan/index.js';
import { isSameList } from '../section/index.js';
import { RowLookup } from './rowLookup.js';

/** What a link's members advertise on it, compiled for look-ups. */
export interface LinkTable {
  readonly link: Link;
  readonly members: readonly LinkMember[];
  readonly rows: readonly { readonly prefix: Prefix; readonly networkId: string; readonly attachmentId: string }[];
  readonly lookup: RowLookup;
}

export interface LinkMember {
  readonly networkId: string;
  readonly attachment: Attachment | undefined;
  readonly advertised: readonly Prefix[];
}

/** What is advertised on a link, each prefix once a network. */
export function compileLink(link: Link, members: readonly LinkMember[]): LinkTable {
  const seen = new Set<string>();
  const rows = members.flatMap(({ networkId, attachment, advertised }) =>
    advertised.flatMap((prefix) => {
      const key = `${networkId} ${formatPrefix(prefix)}`;
      if (seen.has(key)) return [];
      seen.add(key);
      return [{ prefix, networkId, attachmentId: attachment?.id ?? '' }];
    }),
  );
  return { link, members, rows, lookup: new RowLookup(rows.map(({ prefix }) => prefix)) };
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
