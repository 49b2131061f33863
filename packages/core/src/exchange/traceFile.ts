import { formatAddress, formatPrefix } from '../address/index.js';
import { formatEvent, formatFailed, formatLoss, formatNextHop, formatRowSource } from '../english/index.js';
import type { Names } from '../english/index.js';
import type { FlowTrace } from '../forwarding/index.js';
import type { Answer } from '../request/index.js';
import { decisionsOf, lookUpOf } from '../road/index.js';
import type { Packet, RoadEvent, RouteRow, TableLookUp } from '../road/index.js';
import { plain, size } from './plain.js';
import type { Json } from './plain.js';

/** The version of the form; it is raised when something is renamed or taken away. */
const VERSION = 2;

/**
 * The answer to a question as data: codes, facts and words side by side, as docs/trace.schema.json describes it. Sizes are
 * in bytes; null where nothing bounds them.
 */
export function traceFile(names: Names, answer: Answer): Json {
  const { verdict, status, sentence, flows, stages, members } = answer;
  return {
    format: 'wide-lattice-trace',
    version: VERSION,
    verdict,
    status: status ?? null,
    words: sentence,
    stages: stages.map(({ about, outcome, fact: { code, ...facts }, description, subject }) => ({
      about,
      outcome,
      code,
      facts: plain(facts),
      words: description,
      subject: plain(subject),
    })),
    members: members.map(({ workload, service, port, share, cluster, rank }) => ({
      workload: `${workload.namespace}/${workload.name}`,
      service: `${service.namespace}/${service.name}`,
      port,
      share,
      cluster,
      rank,
    })),
    flows: flows.map((flow) => flowOf(names, flow)),
  };
}

function flowOf(names: Names, { from, aim, verdict, forth, back, failed, room }: FlowTrace): Json {
  return {
    from: from.label,
    to: aim.label,
    address: formatAddress(aim.address),
    protocol: aim.protocol,
    port: aim.port,
    verdict,
    room: size(room),
    failed:
      failed === undefined
        ? null
        : {
            code: failed.failure.code,
            isBack: failed.isBack,
            facts: plain(failed.failure),
            words: formatFailed(names, failed),
          },
    forth: forth.map((event) => eventOf(names, event)),
    back: back.map((event) => eventOf(names, event)),
  };
}

function eventOf(names: Names, event: RoadEvent): Json {
  const { spot, packet, before, wraps, room, event: code, ...facts } = event;
  const lookUp = lookUpOf(event);
  const known = new Set(['lookUp', 'decisions', 'within']);
  const others = Object.entries(facts).filter(([name]) => !known.has(name));
  return {
    code,
    place: { kind: spot.kind, name: spot.name },
    words: formatEvent(names, event),
    packet: packetOf(packet),
    before: before === undefined ? null : packetOf(before),
    inside: [...wraps],
    room: size(room),
    table: lookUp === undefined ? null : tableOf(names, lookUp),
    rules: decisionsOf(event).map(({ list, ruleId, why, port, direction }) => ({
      list: plain(list),
      ruleId: ruleId ?? null,
      why,
      port,
      direction: direction ?? null,
    })),
    facts: Object.fromEntries(others.map(([name, value]) => [name, plain(value)])),
  };
}

function tableOf(names: Names, { networkId, tableId, found: { row, lost } }: TableLookUp): Json {
  return {
    networkId,
    tableId: tableId ?? null,
    decides: row === undefined ? null : rowOf(names, row),
    lost: lost.map((each) => ({ ...rowOf(names, each.row), code: each.why, why: formatLoss(row, each.row, each.why) })),
  };
}

function rowOf(names: Names, row: RouteRow): { readonly [name: string]: Json } {
  return {
    prefix: formatPrefix(row.prefix),
    origin: row.origin,
    nextHop: { kind: row.hop.kind, words: formatNextHop(names, row) },
    from: formatRowSource(names, row),
    subject: plain(row.subject),
  };
}

function packetOf({ source, destination, protocol, port, clientPorts, isAnswer }: Packet): Json {
  return {
    source: formatAddress(source),
    destination: formatAddress(destination),
    protocol,
    servicePort: port,
    clientPorts: `${clientPorts.first}-${clientPorts.last}`,
    isAnswer,
  };
}
