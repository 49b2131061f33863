import { formatCount } from '@wide-lattice/core/working';
import type { AddressPlan, PrintedCluster, PrintedNetwork, PrintedPool } from '@wide-lattice/core/exchange';
import { EntryPointsDrawing } from '../ingress/EntryPointsDrawing';
import { useSlice } from '../plan/useSlice';
import { Paper } from '../shared/Paper';
import { PurposeTag } from '../shared/Marks';

/** The address plan as a document, on screen as it comes out of the printer. */
export function PrintPage() {
  const plan = useSlice('addressPlan');
  if (plan === undefined) return <p className="quiet p-6">Setting...</p>;
  return (
    <Paper>
      <Document plan={plan} />
    </Paper>
  );
}

function Document({ plan }: { readonly plan: AddressPlan }) {
  const entryPoints = useSlice('entryPoints', '');
  return (
    <>
      <h1 className="text-2xl font-semibold">Address plan: {plan.title}</h1>
      {plan.note !== '' && <p className="quiet">{plan.note}</p>}
      <dl className="mt-2 flex flex-wrap gap-x-8">
        {plan.summary.map(({ label, value }) => (
          <div key={label} className="flex gap-2">
            <dt className="quiet">{label}</dt>
            <dd className="font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      <PrintSection title="Pools">
        {plan.pools.map((pool) => (
          <PoolArticle key={pool.name} pool={pool} />
        ))}
      </PrintSection>
      {plan.sites.map(({ name, profile, clusters }) => (
        <PrintSection key={name} title={`Site ${name}, ${profile} rules`}>
          {clusters.map((cluster) => (
            <ClusterArticle key={cluster.name} cluster={cluster} />
          ))}
        </PrintSection>
      ))}
      <PrintSection title="Networks">
        {plan.networks.map((network) => (
          <NetworkArticle key={network.name} network={network} />
        ))}
      </PrintSection>
      <PrintSection title="In use elsewhere">
        <Table
          head={['Range', 'Owner', 'Network']}
          rows={plan.inUse.map(({ prefix, owner, network }) => [prefix, owner, network])}
        />
      </PrintSection>
      {entryPoints !== undefined && entryPoints.entries.length > 0 && (
        <PrintSection title="Entry points">
          <EntryPointsDrawing entryPoints={entryPoints} />
        </PrintSection>
      )}
      <PrintSection title={`Findings: ${plan.findings.length}`}>
        {plan.findings.map(({ severity, title, detail }, i) => (
          <article key={i} className="py-1">
            <p>
              <strong>{severity}:</strong> {title}
            </p>
            <p className="quiet">{detail}</p>
          </article>
        ))}
      </PrintSection>
    </>
  );
}

function PrintSection({ title, children }: { readonly title: string; readonly children: React.ReactNode }) {
  return (
    <section className="mt-6">
      <h2 className="rule-b mb-2 text-lg font-semibold">{title}</h2>
      {children}
    </section>
  );
}

function PoolArticle({ pool }: { readonly pool: PrintedPool }) {
  return (
    <article className="mb-3">
      <h3 className="font-semibold">
        {pool.name} <span className="font-mono font-normal">{pool.prefix}</span>
      </h3>
      <div className="border-base-content relative h-4 border" role="img" aria-label={`${pool.takenPercent} % taken`}>
        {pool.bar.map(({ start, width, what }, i) => (
          <span
            key={i}
            className="absolute inset-y-0"
            style={{
              left: `${start * 100}%`,
              width: `max(1px, ${width * 100}%)`,
              background: `var(--purpose-${what})`,
            }}
          />
        ))}
      </div>
      <p className="quiet">
        For {pool.purposes}; site {pool.site}. {pool.size} addresses, {pool.takenPercent} % taken; largest free block{' '}
        {pool.largestFree}; {formatCount(pool.routes, 'route')} to advertise.
      </p>
    </article>
  );
}

function ClusterArticle({ cluster }: { readonly cluster: PrintedCluster }) {
  return (
    <article className="mb-3">
      <h3 className="font-semibold">
        {cluster.name}
        {cluster.isBuilt && <span className="quiet font-normal"> built</span>}
      </h3>
      <p className="quiet">
        Network {cluster.network}, {cluster.podMode} pods, nodes {cluster.nodes}.
      </p>
      <table className="w-full">
        <tbody>
          {cluster.ranges.map((range) => (
            <tr key={`${range.purpose} ${range.zone} ${range.family}`} className="rule-b">
              <th scope="row" className="py-0.5 text-left font-normal">
                <span className="inline-flex items-center gap-1.5">
                  <PurposeTag purpose={range.purpose} /> {range.purpose} {range.zone}
                </span>
              </th>
              <td>{range.family}</td>
              <td className="font-mono">{range.prefix}</td>
              <td className="text-right">{range.addresses}</td>
              <td className="text-right">{range.needed}</td>
              <td className={`pl-4 ${range.verdict === 'clear' ? 'quiet' : 'font-semibold'}`}>{range.verdict}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {cluster.reservations.map(({ name, first, count }) => (
        <p key={name}>
          {name}: {formatCount(count, 'address', 'addresses')} from <span className="font-mono">{first}</span>
        </p>
      ))}
    </article>
  );
}

function NetworkArticle({ network }: { readonly network: PrintedNetwork }) {
  return (
    <article className="mb-3">
      <h3 className="font-semibold">{network.name}</h3>
      {network.note !== '' && <p className="quiet">{network.note}</p>}
      {network.blocks.length > 0 && (
        <p>
          Address blocks: <span className="font-mono">{network.blocks.join(', ')}</span>
        </p>
      )}
      {network.links.map((link) => (
        <p key={link}>{link}</p>
      ))}
      {network.subnets.length > 0 && (
        <Table
          head={['Subnet', 'Range', 'Use', 'Place', 'Internet egress', 'Route table']}
          rows={network.subnets.map((s) => [s.name, s.prefix, s.use, s.place, s.internetEgress, s.routeTable])}
        />
      )}
    </article>
  );
}

interface TableProps {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

function Table({ head, rows }: TableProps) {
  return (
    <table className="w-full">
      <thead>
        <tr className="quiet rule-b text-left">
          {head.map((title) => (
            <th key={title} className="font-normal">
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, i) => (
          <tr key={i} className="rule-b">
            {row.map((cell, c) => (
              <td key={head[c]} className={`py-0.5 ${head[c] === 'Range' ? 'font-mono' : ''}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
