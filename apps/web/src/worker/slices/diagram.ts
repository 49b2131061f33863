import dagre from '@dagrejs/dagre';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Attachment, Link, LinkKind, Plan } from '@wide-lattice/core/plan';

/** A network or a transit hub, with its place. */
export interface DiagramNode {
  readonly id: string;
  readonly kind: 'network' | 'hub';
  readonly name: string;
  /** What is in it, in a few words. */
  readonly detail: string;
  readonly conflicts: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A join of two networks, or of a network and a hub. */
export interface DiagramEdge {
  readonly key: string;
  readonly kind: LinkKind;
  readonly isPlanned: boolean;
  /** The link's name on a join of two; what is told and learned on the way to a hub. */
  readonly label: string;
  readonly detail: string;
  readonly points: readonly { readonly x: number; readonly y: number }[];
  readonly labelAt: { readonly x: number; readonly y: number };
}

/** Networks and links laid out; all measures in pixels at zoom 1. */
export interface DiagramView {
  readonly width: number;
  readonly height: number;
  readonly nodes: readonly DiagramNode[];
  readonly edges: readonly DiagramEdge[];
}

const NODE = { width: 150, height: 48 };
const LETTER = 6.6;
/** The place that a diagram usually has. */
const TALL = { width: 450, height: 600 };

/** Draws the ground: every network and link, placed so that few lines cross, downwards or sideways as it fits a tall place better. */
export function diagramView(evaluation: Evaluation): DiagramView {
  const [down, across] = [draw(evaluation, 'TB'), draw(evaluation, 'LR')];
  const scale = ({ width, height }: DiagramView) => Math.min(TALL.width / width, TALL.height / height);
  return scale(across) > scale(down) ? across : down;
}

function draw(evaluation: Evaluation, rankdir: 'TB' | 'LR'): DiagramView {
  const { plan } = evaluation;
  const graph = new dagre.graphlib.Graph({ multigraph: true });
  graph.setGraph({ rankdir, nodesep: 22, ranksep: rankdir === 'TB' ? 58 : 26, edgesep: 18, marginx: 12, marginy: 12 });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const network of plan.networks) graph.setNode(network.id, { ...NODE });
  const edges: (Omit<DiagramEdge, 'points' | 'labelAt'> & { from: string; to: string })[] = [];
  for (const link of plan.links) {
    if (link.kind === 'hub')
      graph.setNode(link.id, { width: Math.max(90, link.name.length * LETTER + 24), height: 30 });
    edges.push(...edgesOf(plan, link));
  }
  for (const { from, to, key, label } of edges)
    graph.setEdge(from, to, { width: label.length * LETTER, height: 14, labelpos: 'c' }, key);
  dagre.layout(graph);
  const conflicts = conflictsByNetwork(evaluation);
  const place = (id: string) => {
    // The layout gives every node that was set its place.
    const { x, y, width, height } = graph.node(id) as { x: number; y: number; width: number; height: number };
    return { x: x - width / 2, y: y - height / 2, width, height };
  };
  const { width = 0, height = 0 } = graph.graph() as { width?: number; height?: number };
  return {
    width,
    height,
    nodes: [
      ...plan.networks.map((network): DiagramNode => ({
        id: network.id,
        kind: 'network',
        name: network.name,
        detail: contentsOf(plan, network.id),
        conflicts: conflicts.get(network.id) ?? 0,
        ...place(network.id),
      })),
      ...plan.links
        .filter(({ kind }) => kind === 'hub')
        .map((hub): DiagramNode => ({
          id: hub.id,
          kind: 'hub',
          name: hub.name,
          detail: `transit hub of ${hub.networkIds.length} networks`,
          conflicts: 0,
          ...place(hub.id),
        })),
    ],
    edges: edges.map(({ from, to, ...edge }): DiagramEdge => {
      const { points, x, y } = graph.edge(from, to, edge.key) as {
        points: { x: number; y: number }[];
        x?: number;
        y?: number;
      };
      return { ...edge, points, labelAt: { x: x ?? 0, y: y ?? 0 } };
    }),
  };
}

function edgesOf(plan: Plan, link: Link) {
  const base = { kind: link.kind };
  const told = (networkId: string) =>
    plan.attachments.find((each) => each.linkId === link.id && each.networkId === networkId);
  if (link.kind === 'hub')
    return link.networkIds.map((id) => {
      const policy = told(id);
      const label = policy === undefined ? '' : shortPolicy(policy);
      const detail = `${nameOf(plan, id)} on ${link.name}: ${policy === undefined ? 'advertises all its own ranges, accepts all routes' : longPolicy(plan, policy)}`;
      const isPlanned = link.isPlanned || policy?.isPlanned === true;
      return { ...base, isPlanned, key: `${link.id} ${id}`, from: link.id, to: id, label, detail };
    });
  const [from = '', to = ''] = link.networkIds;
  const policies = link.networkIds.flatMap((id) => {
    const policy = told(id);
    return policy === undefined ? [] : [`${nameOf(plan, id)} ${longPolicy(plan, policy)}`];
  });
  const isPlanned = link.isPlanned || link.networkIds.some((id) => told(id)?.isPlanned);
  const detail = `${link.kind} ${link.name}${isPlanned ? ', planned' : ''}: ${nameOf(plan, from)} and ${nameOf(plan, to)}${policies.length === 0 ? '' : `; ${policies.join('; ')}`}`;
  return [{ ...base, isPlanned, key: link.id, from, to, label: link.name, detail }];
}

function nameOf(plan: Plan, networkId: string): string {
  return plan.networks.find(({ id }) => id === networkId)?.name ?? '';
}

function shortPolicy({ advertises, accepts }: Attachment): string {
  const advertised = advertises.length === 0 ? '' : `advertises ${advertises.length}`;
  const accepted = accepts === 'all' ? '' : accepts === 'none' ? 'accepts none' : 'accepts some';
  return [advertised, accepted].filter((part) => part !== '').join(', ');
}

function longPolicy(plan: Plan, { advertises, accepts, acceptsFromIds, isPlanned }: Attachment): string {
  const advertised = advertises.length === 0 ? 'all its own ranges' : advertises.join(', ');
  const from = acceptsFromIds.map((id) => nameOf(plan, id)).join(', ');
  const accepted =
    accepts === 'listed'
      ? `routes from ${from === '' ? 'nobody' : from}`
      : accepts === 'all'
        ? 'all routes'
        : 'no routes';
  return `${isPlanned ? 'planned, ' : ''}advertises ${advertised}, accepts ${accepted}`;
}

function contentsOf({ clusters, inUse, subnets, blocks }: Plan, id: string): string {
  const parts = [
    [clusters.filter(({ networkId }) => networkId === id).length, 'cluster'],
    [blocks.filter(({ networkId }) => networkId === id).length, 'block'],
    [subnets.filter(({ networkId }) => networkId === id).length, 'subnet'],
    [inUse.filter(({ networkId }) => networkId === id).length, 'in use'],
  ] as const;
  const said = parts.flatMap(([count, word]) =>
    count === 0 ? [] : [`${count} ${word}${word === 'in use' || count === 1 ? '' : 's'}`],
  );
  return said.slice(0, 2).join(', ') || 'empty';
}

function conflictsByNetwork(evaluation: Evaluation): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { a, b } of evaluation.verdicts()) {
    for (const id of new Set([a.networkId, b.networkId])) if (id !== null) counts.set(id, (counts.get(id) ?? 0) + 1);
  }
  return counts;
}
