import { formatAddress } from '../address/index.js';
import { byId } from '../plan/index.js';
import { bad } from '../result.js';
import type { Problem } from '../result.js';
import type { Lack } from '../road/index.js';
import { sayNumber } from '../working/index.js';
import { nameIn } from './names.js';
import type { Names } from './names.js';

/** What the plan does not say yet, and where to say it. */
export function lackProblem(names: Names, lack: Lack): Problem {
  const problem = (message: string, mend = '') => bad(lack.code, message, mend).problem;
  switch (lack.code) {
    case 'host.gone':
      return problem(`That ${lack.what} is not in the plan.`, 'It may have been removed. Reload the plan.');
    case 'host.no-range': {
      const zone = lack.zone === '' ? '' : ` in zone ${lack.zone}`;
      const family = lack.family === 4 ? 'IPv4' : 'IPv6';
      const cluster = nameIn(names.clusters, lack.clusterId);
      return problem(`${cluster} has no ${family} ${lack.purpose} range${zone} yet.`, 'Allocate its ranges first.');
    }
    case 'host.zone-lost':
      return problem(
        `${nameIn(names.clusters, lack.clusterId)} has no node left there: the zone is lost.`,
        'Plan nodes in another zone.',
      );
    case 'host.nowhere': {
      const range = byId(names.inUse, lack.inUseId);
      return problem(
        `The range ${range?.prefix ?? ''} of ${range?.owner ?? ''} is in no network of the plan.`,
        'Say in which network it is.',
      );
    }
    case 'host.not-held':
      return problem(
        `Network ${nameIn(names.networks, lack.networkId)} does not hold ${formatAddress(lack.address)}: no subnet, node range or range in use is around it.`,
        'Ask from an address that it holds.',
      );
    case 'need.no-endpoint':
      return problem(
        `${nameIn(names.needs, lack.needId)} is reached through a private endpoint, and none is named.`,
        'Name one at the need.',
      );
    case 'need.family':
      return problem(
        `${nameIn(names.needs, lack.needId)} has no ${lack.family === 4 ? 'IPv4' : 'IPv6'} prefix.`,
        'Add one.',
      );
    case 'need.parts':
      return problem(
        `Rules and routes tell ${sayNumber(lack.count)} parts of ${nameIn(names.needs, lack.needId)} apart, and at most ${sayNumber(lack.max)} are followed.`,
        'Split the need into several.',
      );
    case 'range.parts':
      return problem(
        [
          `Rules and routes tell ${sayNumber(lack.count)} parts of the range ${byId(names.inUse, lack.inUseId)?.prefix ?? ''} apart,`,
          `and at most ${sayNumber(lack.max)} are followed.`,
        ].join(' '),
        'Ask for an address in it.',
      );
    case 'gateway.none': {
      const cluster = nameIn(names.clusters, lack.clusterId);
      return problem(lack.isCutOff ? `${cluster} is cut off from all others.` : `${cluster} has no gateway left.`);
    }
    case 'gateway.mute':
      return problem(
        `Gateway ${lack.index + 1} of ${nameIn(names.clusters, lack.clusterId)} would take over, and cannot tell the others while the rendezvous is gone.`,
      );
    case 'tunnel.cut': {
      const [one, other] = lack.clusterIds.map((id) => nameIn(names.clusters, id));
      return problem(`The way between ${one ?? ''} and ${other ?? ''} is cut.`);
    }
    case 'trace.elsewhere':
      return problem(
        `The plan does not say who has ${formatAddress(lack.address)}: none of its networks, devices or load balancers does.`,
        'Enter who has it: a range in use, a subnet or a load balancer.',
      );
    case 'trace.nothing':
      return problem('There is nothing to reach.');
  }
}

/** The same in one sentence, without where to say it. */
export function sayLack(names: Names, lack: Lack): string {
  return lackProblem(names, lack).message;
}
