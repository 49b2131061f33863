import { propose } from '../allocation/index.js';
import type { Proposal } from '../allocation/index.js';
import { addOperation, applyOperations, byId, effectiveTemplate, newId, withFallbacks } from '../plan/index.js';
import type { Cluster, Operation, Plan, Site, Template } from '../plan/index.js';
import { formatNumber } from '../working/index.js';

/** One cluster to make of a template: the site by name, and its own name where the pattern is not wanted. */
export interface StampRow {
  readonly siteName: string;
  readonly clusterName: string;
  /** Nodes now and at the horizon, as written; what the template says where they are left out. */
  readonly counts?: readonly string[];
}

/** A line of a pasted list that makes no cluster, and why. */
export interface StampProblem {
  /** From 1. */
  readonly line: number;
  readonly text: string;
  readonly message: string;
  readonly fix: string;
}

/** Clusters of a template with their ranges, as a change that nobody has made yet. */
export interface Stamp {
  readonly clusters: readonly Cluster[];
  readonly problems: readonly StampProblem[];
  /** The ranges of the new clusters, and what found no place. */
  readonly proposal: Proposal;
  /** New clusters and ranges together. */
  readonly operations: readonly Operation[];
}

/** Most lines one stamping takes. */
export const MAX_STAMPED = 2000;

const empty: Proposal = { ranges: [], refusals: [], operations: [], routes: [] };

/** Most nodes one line gives a cluster, as the form does. */
const MAX_NODES = 20_000;

/** Reads a pasted list: a site a line, and after tabs or commas a name for the cluster and its nodes, now and at the horizon. */
export function readStampList(text: string): StampRow[] {
  return text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const [siteName = '', ...cells] = line.split(/[\t,;]/).map((cell) => cell.trim());
      // A number where a name may stand is a number of nodes.
      const isNamed = cells[0] !== undefined && !/^\d+$/.test(cells[0]);
      const counts = cells.slice(isNamed ? 1 : 0).filter((cell) => cell !== '');
      return { siteName, clusterName: isNamed ? (cells[0] ?? '') : '', ...(counts.length === 0 ? {} : { counts }) };
    });
}

/** Makes a cluster of a template for each row and proposes all their ranges together; rows that cannot be are said and left out. */
export function stampTemplate(plan: Plan, templateId: string, rows: readonly StampRow[]): Stamp {
  const template = byId(plan.templates, templateId);
  const nothing = (problems: readonly StampProblem[]): Stamp => ({
    clusters: [],
    problems,
    proposal: empty,
    operations: [],
  });
  if (template === undefined) return nothing([]);
  if (rows.length > MAX_STAMPED)
    return nothing([
      {
        line: MAX_STAMPED + 1,
        text: '',
        message: `${rows.length} lines were given, and ${MAX_STAMPED} is the most.`,
        fix: 'Stamp them in parts.',
      },
    ]);
  const problems: StampProblem[] = [];
  const clusters = clustersOf(plan, template, rows, problems);
  const adds = clusters.map((cluster) => addOperation('clusters', cluster));
  const applied = applyOperations(plan, adds);
  if (!applied.ok) {
    const [first] = applied.problems;
    return nothing([...problems, { line: 1, text: '', message: first?.message ?? '', fix: first?.fix ?? '' }]);
  }
  const proposal = clusters.length === 0 ? empty : propose(applied.plan, { clusterIds: clusters.map(({ id }) => id) });
  return { clusters, problems, proposal, operations: [...adds, ...proposal.operations] };
}

function clustersOf(plan: Plan, template: Template, rows: readonly StampRow[], problems: StampProblem[]): Cluster[] {
  const sites = new Map(plan.sites.map((site) => [site.name.trim().toLowerCase(), site]));
  const taken = new Set(plan.clusters.map(({ name }) => name.trim().toLowerCase()));
  const { namePattern, sets } = effectiveTemplate(plan, template);
  return rows.flatMap((row, i) => {
    const refuse = (message: string, fix: string) => {
      problems.push({ line: i + 1, text: [row.siteName, row.clusterName].filter(Boolean).join(', '), message, fix });
      return [];
    };
    const site = sites.get(row.siteName.toLowerCase());
    if (site === undefined)
      return refuse(`There is no site "${row.siteName}".`, 'Add it at the stop Ground, or correct its name.');
    const networkId = sets.networkId ?? networkAt(plan, site);
    if (networkId === undefined)
      return refuse(`No network is known at ${site.name}.`, 'Let the template fix the network.');
    const name = row.clusterName === '' ? nameFor(namePattern, site) : row.clusterName;
    if (name.length > 80)
      return refuse(`The name "${name.slice(0, 30)}..." is too long.`, '80 characters is the most.');
    if (taken.has(name.toLowerCase()))
      return refuse(`The name "${name}" is taken.`, 'Give the cluster another name, after a comma.');
    const { counts: written = [] } = row;
    const wrong = written.find((text, at) => at > 1 || !/^\d+$/.test(text) || Number(text) > MAX_NODES);
    if (wrong !== undefined)
      return refuse(
        `"${wrong}" is not a number of nodes.`,
        `After the name come nodes now and at the horizon, each from 0 to ${formatNumber(MAX_NODES)}.`,
      );
    taken.add(name.toLowerCase());
    const [now, horizon] = written.map(Number);
    const least = { nodesNow: 0, nodesHorizon: 3, ...sets };
    const counts =
      now === undefined ? {} : { nodesNow: now, nodesHorizon: horizon ?? Math.max(least.nodesHorizon, now) };
    return [
      withFallbacks('clusters', {
        id: newId(),
        ...least,
        ...counts,
        name,
        siteId: site.id,
        networkId,
        templateId: template.id,
      }),
    ];
  });
}

/** The network that clusters or subnets at the site are in already. */
function networkAt(plan: Plan, site: Site): string | undefined {
  return [...plan.clusters, ...plan.subnets].find(({ siteId }) => siteId === site.id)?.networkId;
}

/** A name from a pattern: {site} is the site's name in lower case, words joined by hyphens. */
function nameFor(pattern: string, site: Site): string {
  const slug = site.name
    .trim()
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '');
  return pattern.replaceAll('{site}', slug);
}
