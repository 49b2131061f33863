import { formatAddress } from '../address/index.js';
import type { Family } from '../address/index.js';
import { byId } from '../plan/index.js';
import { bad } from '../result.js';
import type { Problem } from '../result.js';
import type { Lack } from '../road/index.js';
import { formatNumber } from '../working/index.js';
import { nameIn } from './names.js';
import type { Names } from './names.js';
import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** What the plan does not say yet, and where to say it. */
export function lackProblem(names: Names, lack: Lack): Problem {
  const [message, fix = ''] = formatByCode(words, lack, names);
  return bad(lack.code, message, fix).problem;
}

const version = (family: Family) => (family === 4 ? 'IPv4' : 'IPv6');

const words: Words<Lack, readonly [message: string, fix?: string], [names: Names]> = {
  'host.gone': ({ what }) => [`That ${what} is not in the plan.`, 'It may have been removed. Reload the plan.'],
  'host.no-range': ({ clusterId, purpose, family, zone }, { clusters }) => {
    const where = zone === '' ? '' : ` in zone ${zone}`;
    return [
      `${nameIn(clusters, clusterId)} has no ${version(family)} ${purpose} range${where} yet.`,
      'Allocate its ranges first.',
    ];
  },
  'host.zone-lost': ({ clusterId }, { clusters }) => [
    `${nameIn(clusters, clusterId)} has no node left there: the zone is lost.`,
    'Plan nodes in another zone.',
  ],
  'host.not-its-node': ({ clusterId, isOther }, { clusters }) =>
    isOther
      ? ['Such a pod does not run on the node of the one who asks.', 'Ask from a pod of the same zone and pool.']
      : [`The one who asks is on no node of ${nameIn(clusters, clusterId)}.`, 'Ask from a pod or a node of it.'],
  'host.nowhere': ({ inUseId }, { inUse }) => {
    const range = byId(inUse, inUseId);
    return [
      `The range ${range?.prefix ?? ''} of ${range?.owner ?? ''} is in no network of the plan.`,
      'Say in which network it is.',
    ];
  },
  'host.not-held': ({ networkId, address }, { networks }) => [
    `Network ${nameIn(networks, networkId)} does not hold ${formatAddress(address)}: no subnet, node range or range in use is around it.`,
    'Ask from an address that it holds.',
  ],
  'need.no-endpoint': ({ needId }, { needs }) => [
    `${nameIn(needs, needId)} is reached through a private endpoint, and none is named.`,
    'Name one at the need.',
  ],
  'need.family': ({ needId, family }, { needs }) => [
    `${nameIn(needs, needId)} has no ${version(family)} prefix.`,
    'Add one.',
  ],
  'need.parts': ({ needId, count, max }, { needs }) => [
    `Rules and routes tell ${formatNumber(count)} parts of ${nameIn(needs, needId)} apart, and at most ${formatNumber(max)} are followed.`,
    'Split the need into several.',
  ],
  'range.parts': ({ inUseId, count, max }, { inUse }) => [
    [
      `Rules and routes tell ${formatNumber(count)} parts of the range ${byId(inUse, inUseId)?.prefix ?? ''} apart,`,
      `and at most ${formatNumber(max)} are followed.`,
    ].join(' '),
    'Ask for an address in it.',
  ],
  'gateway.none': ({ clusterId, isCutOff }, { clusters }) => [
    `${nameIn(clusters, clusterId)} ${isCutOff ? 'is cut off from all others' : 'has no gateway left'}.`,
  ],
  'gateway.mute': ({ clusterId, index }, { clusters }) => [
    `Gateway ${index + 1} of ${nameIn(clusters, clusterId)} would take over, and cannot tell the others while the rendezvous is gone.`,
  ],
  'tunnel.cut': ({ clusterIds }, { clusters }) => {
    const [one, other] = clusterIds.map((id) => nameIn(clusters, id));
    return [`The way between ${one ?? ''} and ${other ?? ''} is cut.`];
  },
  'trace.elsewhere': ({ address }) => [
    `The plan does not say who has ${formatAddress(address)}: none of its networks, devices or load balancers does.`,
    'Enter who has it: a range in use, a subnet or a load balancer.',
  ],
  'trace.nothing': () => ['There is nothing to reach.'],
};

/** The same in one sentence, without where to say it. */
export function formatLack(names: Names, lack: Lack): string {
  return lackProblem(names, lack).message;
}
