import { parentOf, textOf } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import type { NameState } from './nameState.js';

/** Which issuers may issue for a name. */
export interface Caa {
  /** Where the records stand; undefined where no ancestor has any, so that every issuer may. */
  readonly at: string | undefined;
  /** Domains of issuers; none where nobody may. */
  readonly issuers: readonly string[];
}

/**
 * The CAA records that decide for a name: those of the closest name above it, itself included, that has any. For a wildcard issuewild decides
 * where there is one, else issue. Source: RFC 8659 3 and 4.3.
 */
export function caaOf(state: NameState, name: string): Caa {
  const isWild = name.startsWith('*.');
  for (let at: string | undefined = isWild ? name.slice(2) : name; at !== undefined && at !== ''; at = parentOf(at)) {
    const { outcome, records } = state.public.set.ask(at, 'CAA');
    const set = outcome === 'answer' ? records.filter(({ type }) => type === 'CAA') : [];
    if (set.length === 0) continue;
    // A property that is critical and not understood forbids issuance (RFC 8659 4.1).
    const isBarred = set.some(({ value }) => isCriticalUnknown(value));
    if (isBarred) return { at, issuers: [] };
    const of = (tag: string) => set.filter(({ value }) => value.split(' ')[1] === tag);
    const deciding = isWild && of('issuewild').length > 0 ? of('issuewild') : of('issue');
    // A set without issue restricts no issuance (RFC 8659 4.2).
    if (deciding.length === 0) return { at: undefined, issuers: [] };
    return { at, issuers: deciding.flatMap((each) => issuerOf(each) ?? []) };
  }
  return { at: undefined, issuers: [] };
}

/** Tags that issuers know. Sources: RFC 8659 4, RFC 9495, RFC 8657 (parameters of issue). */
const KNOWN_TAGS: ReadonlySet<string> = new Set([
  'issue',
  'issuewild',
  'iodef',
  'issuemail',
  'contactemail',
  'contactphone',
]);

function isCriticalUnknown(value: string): boolean {
  const [flags = '0', tag = ''] = value.split(' ');
  return (Number(flags) & 128) !== 0 && !KNOWN_TAGS.has(tag);
}

/** The domain of the issuer in a CAA record; undefined for one that names nobody (";"). */
function issuerOf({ value }: Rr): string | undefined {
  const quoted = /"(?:\\.|[^"\\])*"$/.exec(value)?.[0] ?? '';
  const domain = (textOf(quoted).split(';')[0] ?? '').trim().toLowerCase();
  return domain === '' ? undefined : domain;
}
