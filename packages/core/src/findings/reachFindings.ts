import { MatrixMaker } from '../reach/index.js';
import { forwarding as compiled, packets } from '../forwarding/index.js';
import type { MatrixCell } from '../reach/index.js';
import type { Cluster, Network, Plan } from '../plan/index.js';
import { addTo, byId, groupBy } from '../plan/index.js';
import { causeOf } from '../road/index.js';
import type { Reason } from '../road/index.js';
import { oncePer, section } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

type Parts = Pick<Plan, 'clusters' | 'networks' | 'needs'>;

/** Clusters named in one finding; the others are counted. */
const MAX_NAMED = 5;

interface Failing {
  readonly cluster: Cluster;
  readonly cell: MatrixCell;
}

/** The cells of what clusters must reach, and what was found in them. */
interface Wanted {
  readonly maker: MatrixMaker;
  readonly found: readonly Finding[];
}

/**
 * What clusters cannot reach: needs of theirs, and the internet where their network has an egress. One finding for each cause,
 * whoever it meets. After an edit of rules only rows that met them are asked again, after one that no packet sees none.
 */
export const wantedCells = section({
  name: 'wanted cells',
  reads: ['clusters', 'networks', 'needs'],
  needs: { forwarding: compiled, packets },
  build: (parts, { forwarding }) => wantedOf(parts, new MatrixMaker(forwarding)),
  follow: ({ value, needed: last }, parts, { forwarding, packets: mark }) =>
    last.packets === mark ? value : wantedOf(parts, new MatrixMaker(forwarding, value.maker)),
});

/** What is asked for each cluster: the same lists while no need changes, so that they need not be compared. */
const columnsOf = oncePer((all: Plan['needs']) => {
  const needs = all.map((need) => ({ kind: 'need', label: need.name, need }) as const);
  return { needs, withInternet: [...needs, { kind: 'internet', label: '' } as const] };
});

function wantedOf(parts: Parts, maker: MatrixMaker): Wanted {
  const { needs, withInternet } = columnsOf(parts.needs);
  const failing = new Map<string, Failing[]>();
  const note = (key: string, cluster: Cluster, cell: MatrixCell | undefined) => {
    // Clusters without ranges are told so elsewhere.
    if (cell === undefined || cell.verdict === 'pass' || cell.verdict === 'unknown') return;
    addTo(failing, key, { cluster, cell });
  };
  for (const cluster of parts.clusters) {
    const network = byId(parts.networks, cluster.networkId);
    const isOut = network !== undefined && hasEgress(network);
    if (needs.length === 0 && !isOut) continue;
    const cells = maker.row(cluster, isOut ? withInternet : needs);
    needs.forEach(({ need }, at) => note(need.id, cluster, cells[at]));
    const internet = cells[needs.length];
    // Behind a firewall only what is needed passes; there a refusal is meant.
    if (isOut && (network.internetEgress !== 'hub' || internet?.verdict !== 'refused'))
      note(`egress ${network.id}`, cluster, internet);
  }
  const found = [...failing].flatMap(([key, all]) => byCause(all).map((group, at) => unreached(parts, key, group, at)));
  return { maker, found };
}

/** An internet egress that is decided and not none. */
function hasEgress({ internetEgress }: Network): boolean {
  return internetEgress !== 'undecided' && internetEgress !== 'none';
}

// Cells are kept from edit to edit with what stops them, and so is what that comes to.
const causeOnce = oncePer((why: Reason) => causeOf(why));

/** Those that fail in the same way: the same entities decide. */
function byCause(found: readonly Failing[]): Failing[][] {
  return [...groupBy(found, ({ cell: { why } }) => (why === undefined ? '' : causeOnce(why))).values()];
}

function unreached({ needs, networks }: Parts, key: string, group: readonly Failing[], at: number): Finding {
  const [first] = group as [Failing];
  const need = byId(needs, key);
  const named = group.slice(0, MAX_NAMED);
  const clusters = named.map(({ cluster }) => cluster.name);
  const more = group.length - named.length;
  const subjects: Subject[] = named.map(({ cluster }) => ({ kind: 'clusters', id: cluster.id }));
  const { from, to, why } = first.cell;
  if (need !== undefined)
    return finding(
      'need.unreached',
      'error',
      [{ kind: 'needs', id: need.id }, ...subjects],
      { need: need.name, clusters, more, from, why },
      { part: `${need.id} ${at}`, ask: { from, to } },
    );
  const network = byId(networks, first.cluster.networkId);
  return finding(
    'egress.none',
    'error',
    [{ kind: 'networks', id: network?.id ?? '' }, ...subjects],
    { clusters, more, network: network?.name ?? '', egress: network?.internetEgress ?? '', from, why },
    { part: `${network?.id ?? ''} ${at}`, ask: { from, to } },
  );
}
