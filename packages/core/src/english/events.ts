import { formatAddress } from '../address/index.js';
import { byId } from '../plan/index.js';
import type { Choice, NameQuestion, RoadEvent, RuleDecision, Translation } from '../road/index.js';
import { formatNumber } from '../working/index.js';
import { formatFailed, formatPolicy } from './failures.js';
import { nameIn, formatPacket } from './names.js';
import type { Names } from './names.js';
import { formatRow } from './tables.js';

/** What happened at a place of the road, in a sentence. */
export function formatEvent(names: Names, at: RoadEvent): string {
  const { spot, packet } = at;
  switch (at.event) {
    case 'sent':
      return at.question === undefined
        ? `${spot.name} sends ${formatPacket(packet)}.`
        : `${spot.name} asks for ${at.question.name} ${at.question.type}.`;
    case 'routed': {
      const table = nameIn(names.routeTables, at.lookUp.tableId ?? '');
      const { row } = at.lookUp.found;
      return `Network ${spot.name}${table === '' ? '' : `, table ${table}`}: ${row === undefined ? 'no route' : formatRow(names, row)}.`;
    }
    case 'allowed':
      return 'policy' in at ? formatPolicy(at.policy) : formatAllowed(names, at.decisions, at);
    case 'refused':
    case 'dropped':
      return 'failure' in at
        ? formatFailed(names, { failure: at.failure, spot, packet, tunnelOf: undefined, ...at.within })
        : formatAnswered(at.question);
    case 'translated':
      return formatTranslation(names, at, at.translation);
    case 'wrapped': {
      const to = typeof at.to === 'string' ? at.to : `the node ${formatAddress(at.to)}`;
      return `${spot.name} wraps it in ${at.layers.join(' in ')} to ${to}: ${formatNumber(at.inside)} bytes fit inside.`;
    }
    case 'unwrapped':
      return `${spot.name} takes the outer headers off.`;
    case 'crossed': {
      const link = byId(names.links, at.subject.id);
      const inside = link === undefined || link.encapsulation === 'none' ? '' : ` inside ${link.encapsulation}`;
      const kind = link?.kind === 'hub' ? 'transit hub' : (link?.kind ?? 'link');
      return `Crosses the ${kind} ${spot.name}${inside} to ${nameIn(names.networks, at.toNetworkId)} (MTU ${formatNumber(at.fits)}).`;
    }
    case 'chosen':
      return formatChoice(at, at.choice);
    case 'resolved':
      return formatAnswered(at.question);
    case 'delivered':
      return `It arrives at ${spot.name}, ${formatAddress(packet.destination)}.`;
  }
}

/** What a server answered: its code, or values with their TTL. */
export function formatEnded(ended: NonNullable<NameQuestion['ended']>): string {
  if (ended.code !== '') return ended.code;
  return ended.records.map(({ value, ttl }) => `${value}, TTL ${formatNumber(ttl)} s`).join(', ') || 'forwarded';
}

function formatAnswered({ name, type, ended }: NameQuestion): string {
  return ended === undefined ? `${name} ${type}` : `${name} ${type}: ${formatEnded(ended)}`;
}

function formatAllowed(names: Names, decisions: readonly RuleDecision[], { packet }: RoadEvent): string {
  const said = decisions.map(({ list, ruleId, why, direction }) => {
    if (list.kind === 'firewalls') {
      const name = nameIn(names.firewalls, list.id);
      const firewall = byId(names.firewalls, list.id);
      if (why === 'state') return `${name} knows the connection and lets the answer pass`;
      if (packet.isAnswer && firewall?.isStateful === false && firewall.translates)
        return `${name} is stateless; its rules allow the reply`;
      return `${name} allows it by ${formatBy(byId(names.firewallRules, ruleId ?? ''))}`;
    }
    const name = nameIn(names.filters, list.id);
    return why === 'state'
      ? `${name} knows the connection`
      : `${name} allows it ${direction ?? ''} by ${formatBy(byId(names.filterRules, ruleId ?? ''))}`;
  });
  return `${said.join('; ')}.`;
}

function formatBy(rule: { readonly position: number } | undefined): string {
  return rule === undefined ? 'its default' : `rule ${rule.position}`;
}

function formatTranslation(names: Names, { spot, packet, before }: RoadEvent, translation: Translation): string {
  const source = formatAddress(packet.source);
  const destination = formatAddress(packet.destination);
  switch (translation.by) {
    case 'node':
      return `${spot.name} translates the source to its own address (SNAT): overlay pod addresses are not routable.`;
    case 'node back':
      return `${spot.name} gives it back the pod’s address ${destination}.`;
    case 'device':
      return `${spot.name} translates the source to ${translation.shown ?? 'its public address, which is not decided yet'}.`;
    case 'device back':
      return `${spot.name} gives it back the address ${destination}.`;
    case 'own':
      return `${spot.name} has a public address of its own.`;
    case 'own back':
      return `Its public address stands for ${destination}.`;
    case 'shown': {
      const own = before === undefined ? '' : formatAddress(before.source);
      return `${spot.name} shows ${own} as ${source}, as ${nameIn(names.clusters, translation.clusterId)} is seen by the others.`;
    }
    case 'known': {
      const asked = before === undefined ? '' : formatAddress(before.destination);
      return `${spot.name} knows ${asked} as ${destination} of ${nameIn(names.clusters, translation.clusterId)}.`;
    }
    case 'service back':
      return `${spot.name} gives the answer the service’s address ${source} back.`;
  }
}

function formatChoice({ spot, packet }: RoadEvent, choice: Choice): string {
  switch (choice.by) {
    case 'gateway':
      return `${spot.name} picks a pod of the service: ${formatAddress(packet.destination)}, port ${packet.port}.`;
    case 'backend':
      return `${choice.name} sends it to ${choice.to}.`;
    case 'backend nodes':
      return `${choice.name} picks a node by ${choice.method}.`;
    case 'health':
      return `${choice.name} asks its members whether they are healthy.`;
    case 'service':
      return `${choice.name} picks a pod.`;
    case 'relay':
      return `${choice.name} takes its calls at the relay.`;
    case 'link':
      return `It goes over the link that ${choice.dialler} dialled.`;
  }
}
