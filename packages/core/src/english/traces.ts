import { formatAddress } from '../address/index.js';
import type { FlowTrace, Trace } from '../forwarding/index.js';
import { formatProblem } from '../result.js';
import { lookUpOf } from '../road/index.js';
import type { Reason } from '../road/index.js';
import { formatNumber } from '../working/index.js';
import { formatFailed } from './failures.js';
import { lackProblem, formatLack } from './lacks.js';
import { formatService } from './names.js';
import type { Names } from './names.js';

/** The answer to a question of packets, in one sentence. */
export function formatTrace(names: Names, trace: Trace): string {
  const { lack, flows, isOfInternet } = trace;
  const [first] = flows;
  if (first === undefined) return lack === undefined ? '' : formatProblem(lackProblem(names, lack)).trim();
  return formatFlow(names, first, flows, isOfInternet);
}

/** Why something is not reached. */
export function formatReason(names: Names, why: Reason | undefined): string {
  if (why === undefined) return '';
  return 'failure' in why ? formatFailed(names, why) : formatLack(names, why);
}

/** Why a flow does not pass; empty where it does. */
export function formatFault(names: Names, { failed }: Pick<FlowTrace, 'failed'>): string {
  return failed === undefined ? '' : formatFailed(names, failed);
}

const endings = {
  refused: 'is refused',
  unknown: 'is not decided',
  broken: 'does not arrive',
  pass: 'arrives',
} as const;

function formatFlow(names: Names, flow: FlowTrace, all: readonly FlowTrace[], isOfInternet: boolean): string {
  const from = flow.from.label;
  const count = all.length;
  const { aim, verdict, failed, room } = flow;
  const flows = isOfInternet ? 'addresses that stand for the internet' : 'flows';
  const service = aim.port === 0 ? aim.protocol : formatService(aim.protocol, aim.port);
  const target = `${aim.label} (${formatAddress(aim.address)} ${service})`;
  if (failed !== undefined) {
    const among = count > 1 ? ` This is ${formatAmong(all)} of ${count} ${flows}.` : '';
    const what = endings[verdict];
    const why = formatFailed(names, failed);
    return failed.isBack
      ? `${from} to ${target}: the packet arrives, and the answer ${what}. ${why}${formatEqual(flow)}${among}`
      : `${from} to ${target} ${what}. ${why}${formatEqual(flow)}${among}`;
  }
  const devices = devicesOn(flow);
  const way = devices.length === 0 ? '' : ` through ${devices.join(' and ')}`;
  const others = count > 1 ? ` So do all ${count} ${flows}.` : '';
  const fits = Number.isFinite(room) ? `; packets of up to ${formatNumber(room)} bytes pass whole` : '';
  return `${from} reaches ${target}${way}, and the answers come back${fits}.${formatEqual(flow)}${others}`;
}

/** The links that packets may take alike, there or back; empty where there is one way. */
function formatEqual({ forth, back, failed }: FlowTrace): string {
  if (failed?.failure.code === 'many-ways') return '';
  const alike = new Set(
    [...forth, ...back].flatMap((event) => {
      const found = lookUpOf(event)?.found;
      const rows = found === undefined || found.equal.length === 0 ? [] : [found.row, ...found.equal];
      return rows.flatMap((row) => (row?.hop.kind === 'link' ? [row.hop.link.name] : []));
    }),
  );
  return alike.size === 0
    ? ''
    : ` Packets take the link ${[...alike].sort().join(' or ')}, whichever: each was followed.`;
}

/** How many of several flows fail. */
function formatAmong(flows: readonly FlowTrace[]): string {
  const failing = flows.filter(({ verdict }) => verdict !== 'pass').length;
  return failing === 1 ? 'one' : `one of the ${failing} that fail`;
}

/** The NAT devices and firewalls that a flow passes, there and back. */
function devicesOn({ forth, back }: FlowTrace): string[] {
  const through = [...forth, ...back].filter(({ spot }) => spot.kind === 'NAT device' || spot.kind === 'firewall');
  return [...new Set(through.map(({ spot }) => `${spot.kind} ${spot.name}`))];
}
