import { formatNumber } from '@wide-lattice/core/working';
import { formatMoney } from '@wide-lattice/core/money';
import type { PodMode, Site } from '@wide-lattice/core/plan';
import type { MovedCluster, MoveOfSite } from '@wide-lattice/core/podnetwork';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { TableHead } from '../shared/TableHead';

const modes: readonly PodMode[] = ['overlay', 'routed', 'native'];

/** Pod networks of all clusters by site, and what would change if a whole site moved to another. */
export function Fleet() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const sites = plan.sites.filter(({ id }) => plan.clusters.some(({ siteId }) => siteId === id));
  const site = sites.find(({ id }) => id === search.get('site')) ?? sites[0];
  const mode = modes.find((each) => each === search.get('mode')) ?? 'native';
  if (site === undefined) return <p className="quiet p-4">No cluster has a site yet.</p>;
  return (
    <>
      <Part
        title={`If ${site.name} moved`}
        aside={
          <select
            className="select select-sm w-28"
            aria-label="Pod network to move to"
            value={mode}
            onChange={(event) => set({ mode: event.target.value })}
          >
            {modes.map((each) => (
              <option key={each} value={each}>
                to {each}
              </option>
            ))}
          </select>
        }
      >
        <Move siteId={site.id} mode={mode} />
      </Part>
      <Part title="Pod networks by site">
        <table className="w-full" aria-label="Pod networks by site">
          <thead>
            <tr className="quiet rule-b text-left">
              <th className="font-normal">Site</th>
              {modes.map((each) => (
                <th key={each} className="text-right font-normal">
                  {each}
                </th>
              ))}
              <th className="text-right font-normal">built</th>
            </tr>
          </thead>
          <tbody>
            {sites.map((each) => (
              <SiteRow
                key={each.id}
                site={each}
                isChosen={each.id === site.id}
                onChoose={() => set({ site: each.id })}
              />
            ))}
          </tbody>
        </table>
      </Part>
    </>
  );
}

interface SiteRowProps {
  readonly site: Site;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}

/** How many clusters of a site have which pod network. */
function SiteRow({ site: { id, name }, isChosen, onChoose }: SiteRowProps) {
  const { plan } = usePlan();
  const own = plan.clusters.filter(({ siteId }) => siteId === id);
  return (
    <tr className={`rule-b ${isChosen ? 'bg-base-200' : ''}`}>
      <th scope="row" className="text-left font-normal">
        <button type="button" aria-pressed={isChosen} className="w-full py-0.5 text-left" onClick={onChoose}>
          {name}
        </button>
      </th>
      {modes.map((each) => (
        <td key={each} className="text-right">
          {own.filter(({ podMode }) => podMode === each).length || <span className="quiet">0</span>}
        </td>
      ))}
      <td className="text-right">{own.filter(({ isBuilt }) => isBuilt).length || <span className="quiet">0</span>}</td>
    </tr>
  );
}

function Move({ siteId, mode }: { readonly siteId: string; readonly mode: PodMode }) {
  const move = useSlice('moveSite', siteId, mode);
  if (move === undefined) return <p className="quiet">Computing...</p>;
  const missing = move.clusters.reduce((count, { without }) => count + without.length, 0);
  const rebuilds = move.clusters.filter(({ isRebuild }) => isRebuild).length;
  return (
    <>
      {move.cannot !== '' && <p className="text-error font-semibold">{move.cannot}</p>}
      <Totals move={move} />
      <p className={missing > 0 ? 'text-error mt-1 font-semibold' : 'mt-1'}>
        {missing === 0
          ? 'All its pod ranges find a place.'
          : `${missing} pod ${missing === 1 ? 'range finds' : 'ranges find'} no place: exhausted ${move.exhausted.length === 0 ? 'is every pool, as none gives such ranges' : move.exhausted.join(', ')}.`}
        {rebuilds > 0 && ` ${rebuilds} ${rebuilds === 1 ? 'cluster is' : 'clusters are'} built and would be rebuilt.`}
      </p>
      <table className="mt-2 w-full" aria-label="Clusters that would move">
        <TableHead labels={['Cluster', 'From', 'Addresses', 'Routes', 'Nodes', 'Cost per month']} rightFrom={2} />
        <tbody>
          {move.clusters.map((cluster) => (
            <Row key={cluster.clusterId} cluster={cluster} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function Row({ cluster }: { readonly cluster: MovedCluster }) {
  const { name, from, before, after, without, isRebuild } = cluster;
  const costs = before.monthly === null || after.monthly === null ? null : after.monthly - before.monthly;
  return (
    <tr className="rule-b align-top">
      <th scope="row" className="py-0.5 text-left font-normal">
        {name} {isRebuild && <span className="text-warning">rebuild</span>}
        {without.length > 0 && <span className="text-error block">no place for {without.join(', ')}</span>}
      </th>
      <td>{from}</td>
      <td className="text-right">{change(after.addresses - before.addresses)}</td>
      <td className="text-right">{change(after.routes - before.routes)}</td>
      <td className="text-right">{change(after.nodes - before.nodes)}</td>
      <td className="text-right">{costs === null ? <span className="quiet">no shape decided</span> : money(costs)}</td>
    </tr>
  );
}

function Totals({ move }: { readonly move: MoveOfSite }) {
  const { currency } = usePlan().plan.settings;
  const sum = (of: (cluster: MovedCluster) => number) => move.clusters.reduce((total, each) => total + of(each), 0);
  const addresses = sum(({ before, after }) => after.addresses - before.addresses);
  const routes = sum(({ before, after }) => after.routes - before.routes);
  const nodes = sum(({ before, after }) => after.nodes - before.nodes);
  const costs = sum(({ before, after }) => (after.monthly ?? 0) - (before.monthly ?? 0));
  return (
    <dl className="flex flex-wrap gap-x-6">
      {(
        [
          ['addresses of routable space', change(addresses)],
          ['routes', change(routes)],
          ['nodes', change(nodes)],
          [`${currency} per month`.trim(), money(costs)],
        ] as const
      ).map(([label, value]) => (
        <div key={label}>
          <dd className="text-lg font-semibold">{value}</dd>
          <dt className="quiet">{label}</dt>
        </div>
      ))}
    </dl>
  );
}

const change = (value: number) =>
  value === 0 ? 'the same' : `${value > 0 ? '+' : '−'}${formatNumber(Math.abs(value))}`;
const money = (value: number) =>
  Math.abs(value) < 0.005 ? 'the same' : `${value > 0 ? '+' : '−'}${formatMoney(Math.abs(value))}`;
