import { apexOf, readZoneFile, relativeTo, writeZoneFile } from '../zones/index.js';
import type { Rr, ZoneProblem } from '../zones/index.js';
import { addOperation, MAX_VALUE, newId, removalOf, setOperation, withFallbacks } from '../plan/index.js';
import type { DnsRecord, Operation, Plan, Zone } from '../plan/index.js';
import { contentMark, nextSerial } from './serial.js';
import { apexRecords, NameState, rrOf, UNNAMED_SERVER } from './nameState.js';
import { refuse } from '../english/index.js';

/** Characters of a record’s name, at most, as its field says. */
const MAX_NAME = 200;

/** What reading a zone file would change, and what of it cannot be taken. */
export interface ZoneImport {
  /** Records and fields that are new or changed. */
  readonly operations: readonly Operation[];
  /** What takes out the records that the file does not have; nothing while any of it cannot be read, since that may be what they are. */
  readonly removals: readonly Operation[];
  /** What the zone remembers of the file once any of it is taken: that its servers have this serial with these records. */
  readonly remembers: readonly Operation[];
  readonly problems: readonly ZoneProblem[];
  readonly added: number;
  readonly changed: number;
  readonly removed: number;
  readonly same: number;
}

/** A zone as a file, with what record controllers add. Source: RFC 1035 5. */
export function zoneText(state: NameState, zone: Zone): string {
  return writeZoneFile(zone.apex, recordsOf(state, zone));
}

/** A zone as its servers are given it: with a greater serial where it holds something else than when its file was read or written last. */
export interface HandedOut {
  readonly text: string;
  /** What the zone has to remember of it; none where that is so already. */
  readonly fields: Partial<Pick<Zone, 'serial' | 'handedOut'>>;
}

/** Hands a zone out on a day: 2026-12-01. */
export function handOut(state: NameState, zone: Zone, today: string): HandedOut {
  const handedOut = contentMark(recordsOf(state, zone));
  if (handedOut === zone.handedOut) return { text: zoneText(state, zone), fields: {} };
  const serial = nextSerial(zone.serial, today);
  const text = writeZoneFile(
    zone.apex,
    recordsOf(state, zone).map((rr) => (rr.type === 'SOA' ? { ...rr, value: withSerial(rr.value, serial) } : rr)),
  );
  return { text, fields: { serial, handedOut } };
}

function withSerial(soa: string, serial: number): string {
  const [server = '', box = '', , ...times] = soa.split(' ');
  return [server, box, serial, ...times].join(' ');
}

function recordsOf(state: NameState, zone: Zone): Rr[] {
  const all = state.treeOf(zone).records();
  const servers = all.filter(
    ({ type, name, value }) => type === 'NS' && name === zone.apex && value !== UNNAMED_SERVER,
  );
  const [first] = servers;
  // Where servers are named by records alone, none stands in for them.
  if (first === undefined || zone.nameServers.length > 0) return all;
  return all.flatMap((rr): Rr[] => {
    if (rr.type === 'NS' && rr.value === UNNAMED_SERVER) return [];
    const isUnnamed = rr.type === 'SOA' && rr.value.startsWith(`${UNNAMED_SERVER} `);
    return [isUnnamed ? { ...rr, value: `${first.value}${rr.value.slice(UNNAMED_SERVER.length)}` } : rr];
  });
}

/**
 * Reads a file into a zone as a difference: records that are new, that have another TTL, that are gone; SOA and the servers of the apex go into
 * the zone’s own fields. What a record controller makes is left to it.
 */
export function importZone(plan: Plan, zone: Zone, text: string): ZoneImport {
  const named = apexOf(text);
  if (named.ok && named.value !== zone.apex) return ofAnother(zone, named.value);
  const { records, lines, problems } = readZoneFile(text, zone.apex);
  const wrong: ZoneProblem[] = [...problems];
  const state = NameState.of(plan);
  const kept = new Set(state.kept.filter((each) => each.zone.id === zone.id).map(keyOf));
  const known = new Map<string, DnsRecord>();
  for (const record of plan.records) {
    const rr = record.zoneId === zone.id ? rrOf(record, zone) : undefined;
    if (rr !== undefined) known.set(keyOf(rr), record);
  }
  const fields = zoneFields(zone, records, problems.length === 0);
  const usual = fields.ttl ?? zone.ttl;
  const operations: Operation[] = Object.keys(fields).length === 0 ? [] : [setOperation('zones', zone.id, fields)];
  const removals: Operation[] = [];
  const counts = { added: 0, changed: 0, removed: 0, same: 0 };
  const met = new Set<string>();
  records.forEach((rr, at) => {
    if (rr.type === 'SOA' || (rr.type === 'NS' && rr.name === zone.apex)) return;
    const key = keyOf(rr);
    met.add(key);
    if (kept.has(key)) return;
    const name = relativeTo(rr.name, zone.apex);
    const tooLong = tooLongFor(name, rr.value);
    if (tooLong !== undefined) {
      wrong.push({ line: lines[at] ?? 0, ...tooLong });
      return;
    }
    const before = known.get(key);
    const ttl = rr.ttl === usual ? null : rr.ttl;
    if (before === undefined) {
      counts.added++;
      // Where a target is that the file alone names is not known to the plan.
      operations.push(
        addOperation(
          'records',
          withFallbacks('records', { id: newId(), zoneId: zone.id, name, type: rr.type, value: rr.value, ttl }),
        ),
      );
    } else if ((before.ttl ?? usual) !== rr.ttl) {
      counts.changed++;
      operations.push(setOperation('records', before.id, { ttl }));
    } else counts.same++;
  });
  for (const [key, record] of wrong.length > 0 ? [] : known)
    if (!met.has(key)) {
      counts.removed++;
      removals.push(...removalOf(plan, 'records', record.id));
    }
  const handedOut = contentMark(records);
  const remembers =
    wrong.length > 0 || handedOut === zone.handedOut ? [] : [setOperation('zones', zone.id, { handedOut })];
  return { operations, removals, remembers, problems: wrong.sort((a, b) => a.line - b.line), ...counts };
}

/** What is longer than the plan holds of a record. */
function tooLongFor(name: string, value: string): Omit<ZoneProblem, 'line'> | undefined {
  if (name.length > MAX_NAME)
    return refuse('zone.long', { name, of: 'name', length: name.length, most: MAX_NAME }).problem;
  if (value.length > MAX_VALUE)
    return refuse('zone.long', { name, of: 'value', length: value.length, most: MAX_VALUE }).problem;
  return undefined;
}

/** A file that says itself which zone it is for is read into no other. */
function ofAnother(zone: Zone, apex: string): ZoneImport {
  const problems = [{ line: 1, ...refuse('zone.other', { apex, own: zone.apex }).problem }];
  return { operations: [], removals: [], remembers: [], problems, added: 0, changed: 0, removed: 0, same: 0 };
}

/** The fields of the zone that its SOA and the NS records of its apex say otherwise; servers go only where all of the file was read. */
function zoneFields(zone: Zone, records: readonly Rr[], isWhole: boolean): Partial<Zone> {
  const fields: { -readonly [F in keyof Zone]?: Zone[F] } = {};
  const soa = records.find(({ type }) => type === 'SOA');
  const servers = records.filter(({ type, name }) => type === 'NS' && name === zone.apex).map(({ value }) => value);
  const [usual, ...apex] = apexRecords(zone);
  const own = apex.map(({ value }) => value);
  const kept = isWhole ? servers : [...new Set([...own, ...servers])];
  if (servers.length > 0 && [...kept].sort().join() !== own.sort().join()) fields.nameServers = kept;
  const usualTtl = soa?.ttl ?? zone.ttl;
  const [ownTtl] = new Set(
    records.filter(({ type, name }) => type === 'NS' && name === zone.apex).map(({ ttl }) => ttl),
  );
  const serverTtl = ownTtl === undefined || ownTtl === usualTtl ? null : ownTtl;
  if (servers.length > 0 && serverTtl !== zone.serverTtl) fields.serverTtl = serverTtl;
  if (soa === undefined) return fields;
  const [primary = '', mailbox = '', ...times] = soa.value.split(' ');
  const [server, box] = usual?.value.split(' ') ?? [];
  if (primary !== server) fields.primary = primary;
  if (mailbox !== box) fields.mailbox = mailbox;
  (['serial', 'refresh', 'retry', 'expire', 'minimum'] as const).forEach((field, at) => {
    const value = Math.min(Number(times[at]), field === 'serial' ? 4_294_967_295 : 2_147_483_647);
    if (value !== zone[field]) fields[field] = value;
  });
  if (soa.ttl !== zone.ttl) fields.ttl = soa.ttl;
  return fields;
}

function keyOf({ name, type, value }: Pick<Rr, 'name' | 'type' | 'value'>): string {
  return `${name} ${type} ${value}`;
}
