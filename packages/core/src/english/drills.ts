import { beginning, formatCount, formatNames, formatNumber } from '../working/index.js';
import { formatDuration } from './rehearsal.js';

/** What a drill shows, as a fact. */
export type DrillFact =
  /** More nodes than a limit holds. */
  | {
      readonly fact: 'nodes beyond';
      readonly cluster: string;
      readonly limit: string;
      readonly holds: number;
      readonly wanted: number;
    }
  /** Addresses in a series that are fewer than nodes, virtual address and spare take. */
  | { readonly fact: 'series short'; readonly cluster: string; readonly has: number; readonly needs: number }
  | { readonly fact: 'pods without room'; readonly cluster: string; readonly pods: number; readonly lack: string }
  /** Pods that find no room on the least nodes, until more come up again. */
  | {
      readonly fact: 'pods wait';
      readonly cluster: string;
      readonly pods: number;
      readonly nodes: number;
      readonly lack: string;
    }
  | { readonly fact: 'month full'; readonly cluster: string; readonly limit: string; readonly month: number }
  | { readonly fact: 'one DNS pod'; readonly cluster: string }
  | { readonly fact: 'record by hand'; readonly name: string; readonly seconds: number }
  | { readonly fact: 'record kept'; readonly name: string; readonly seconds: number }
  | { readonly fact: 'nothing answers'; readonly balancer: string }
  | { readonly fact: 'renewed'; readonly certificate: string }
  | { readonly fact: 'hosts without'; readonly certificate: string; readonly hosts: readonly string[] }
  | { readonly fact: 'gone with it'; readonly clusters: readonly string[] }
  | { readonly fact: 'uses'; readonly lost: number; readonly of: number }
  | { readonly fact: 'tests'; readonly lost: number; readonly of: number };

/** What is done in a drill; its name is of what is lost, empty where all is put to the test. */
export function formatDrill(kind: string, name: string): string {
  switch (kind) {
    case 'zone lost':
      return `Zone ${name} lost`;
    case 'site lost':
      return `All of ${name} lost`;
    case 'NAT lost':
      return `NAT device ${name} lost`;
    case 'firewall lost':
      return `Firewall ${name} lost`;
    case 'link cut':
      return `Link ${name} cut`;
    case 'load balancer replaced':
      return `Load balancer ${name} replaced`;
    case 'certificate expired':
      return `Certificate ${name} ends`;
    case 'several lost':
      return `Lost at once: ${name}`;
    case 'scale out':
      return 'All nodes scaled out';
    case 'scale in':
      return 'Node pools scaled in to their least nodes';
    case 'node drained':
      return 'A node of each cluster drained';
    case 'upgrade':
      return 'All nodes upgraded, with their surge';
    case 'DNS halved':
      return 'DNS pods halved in every cluster';
    case 'range exhausted':
      return 'Growth to the horizon';
    default:
      return beginning(name);
  }
}

/** A fact of a drill in a sentence. */
export function formatDrillFact(fact: DrillFact): string {
  switch (fact.fact) {
    case 'nodes beyond':
      return `${fact.cluster}: ${fact.limit} holds ${formatCount(fact.holds, 'node')}, and ${formatNumber(fact.wanted)} would run.`;
    case 'series short':
      return [
        `${fact.cluster}: its reserved addresses are ${formatNumber(fact.has)}, and nodes, virtual address and`,
        `the spare of an upgrade take ${formatNumber(fact.needs)}.`,
      ].join(' ');
    case 'pods without room':
      return `${fact.cluster}: ${formatCount(fact.pods, 'pod')} ${fact.pods === 1 ? 'finds' : 'find'} no room (${fact.lack}).`;
    case 'pods wait':
      return [
        `${fact.cluster}: ${formatCount(fact.pods, 'pod')} ${fact.pods === 1 ? 'waits' : 'wait'} for room`,
        `on its least ${formatCount(fact.nodes, 'node')} (${fact.lack}), until more come up again.`,
      ].join(' ');
    case 'month full':
      return `${fact.cluster}: ${fact.limit} is exceeded ${fact.month <= 0 ? 'already' : `in month ${fact.month}`}; nodes beyond it do not come up.`;
    case 'one DNS pod':
      return `${fact.cluster}: it has one pod to answer names, and nothing answers while that moves.`;
    case 'record by hand':
      return `${fact.name} holds the old address: it must be edited by hand, and clients follow within ${formatDuration(fact.seconds)} after that.`;
    case 'record kept':
      return `${fact.name} is moved by its record controller; clients follow within ${formatDuration(fact.seconds)}.`;
    case 'nothing answers':
      return `No name of the plan leads to ${fact.balancer}: clients that call it by address do not follow.`;
    case 'renewed':
      return `${fact.certificate} renews itself before it ends.`;
    case 'hosts without':
      return `Clients refuse ${formatNames(fact.hosts)} once ${fact.certificate} has ended.`;
    case 'gone with it':
      return `${formatNames(fact.clusters)} ${fact.clusters.length === 1 ? 'is' : 'are'} gone with it, which only a second site would prevent.`;
    case 'uses':
      return `${formatNumber(fact.lost)} of ${formatCount(fact.of, 'use')} of exported services are lost.`;
    case 'tests':
      return `${formatNumber(fact.lost)} of ${formatCount(fact.of, 'connection test')} that passed ${fact.lost === 1 ? 'fails' : 'fail'}.`;
  }
}

/** Who would notice first what a drill breaks. */
export type Noticed = 'clients' | 'workloads' | 'other clusters' | 'operators' | 'none';

/** Who would notice, in words; empty where nothing breaks. */
export function formatNoticed(noticed: Noticed): string {
  switch (noticed) {
    case 'clients':
      return 'clients, at once';
    case 'workloads':
      return 'workloads, with their next call';
    case 'other clusters':
      return 'workloads in other clusters';
    case 'operators':
      return 'operators, with the next node or upgrade';
    case 'none':
      return '';
  }
}

/** What would prevent what a drill broke, as a fact. */
export type PreventionFact =
  | { readonly offer: 'renew'; readonly certificate: string }
  | { readonly offer: 'second link'; readonly link: string }
  | { readonly offer: 'second gateway'; readonly cluster: string; readonly connection: string }
  | { readonly offer: 'all zones'; readonly what: string }
  | { readonly offer: 'grow' | 'node' | 'DNS'; readonly cluster: string }
  | { readonly offer: 'record controller'; readonly name: string };

/** A change that prevents what drills broke, as the label of a button. */
export function formatPrevention(fact: PreventionFact): string {
  switch (fact.offer) {
    case 'renew':
      return `Have ${fact.certificate} renew itself`;
    case 'second link':
      return `Add a second link beside ${fact.link}`;
    case 'second gateway':
      return `Add a second gateway of ${fact.cluster} in ${fact.connection}`;
    case 'all zones':
      return `Spread ${fact.what} over all zones`;
    case 'grow':
      return `Grow the ranges of ${fact.cluster}`;
    case 'node':
      return `Add a node to ${fact.cluster}`;
    case 'DNS':
      return `Run two DNS pods in ${fact.cluster}`;
    case 'record controller':
      return `Leave ${fact.name} to the record controller`;
  }
}
