import { formatByCode } from '../words.js';
import type { Words } from '../words.js';

/** What the application offers to do about a finding. */
export type FixFact =
  | {
      readonly code:
        | 'connection.other-ranges'
        | 'connection.translate'
        | 'connection.openings'
        | 'export.mirror'
        | 'export.remove'
        | 'member.ids'
        | 'member.second'
        | 'member.spread'
        | 'member.suffixes'
        | 'workload.pods';
    }
  | { readonly code: 'grant.secret'; readonly namespace: string; readonly certificate: string }
  | { readonly code: 'grant.service'; readonly form: string; readonly namespace: string; readonly service: string }
  | { readonly code: 'ground.move'; readonly label: string; readonly prefix: string };

/** The label of a fix, as a button and the change in the history show it. */
export function formatFix(fact: FixFact): string {
  return formatByCode(words, fact);
}

const words: Words<FixFact, string, []> = {
  'connection.openings': () => 'Propose openings and routes',
  'connection.other-ranges': () => 'Propose other ranges',
  'connection.translate': () => 'Propose translated ranges',
  'export.mirror': () => 'Mirror it pod by pod',
  'export.remove': () => 'Remove the export',
  'grant.secret': ({ namespace, certificate }) => `Let every gateway of ${namespace} use ${certificate}`,
  'grant.service': ({ form, namespace, service }) => `Let every ${form} of ${namespace} send to ${service}`,
  'ground.move': ({ label, prefix }) => `Move ${label} ${prefix} with all in it`,
  'member.ids': () => 'Give each an id of its own',
  'member.second': () => 'Plan a second one',
  'member.spread': () => 'Spread them over the zones',
  'member.suffixes': () => 'Let the suffixes follow the ids',
  'workload.pods': () => 'Take its pods from the nodes',
};
