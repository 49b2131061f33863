import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Paper } from '../shared/Paper';
import type { LockedDecision } from '../worker/slices/podNetwork';

/** The ledger of locked decisions and rebuilds, on screen as it comes out of the printer. */
export function LedgerPage() {
  const { plan, revision } = usePlan();
  const rows = useSlice('lockedDecisions');
  if (rows === undefined) return <p className="quiet p-6">Setting...</p>;
  const clusters = [...new Set(rows.map(({ cluster }) => cluster))];
  const nameOf = (clusterId: string) => plan.clusters.find(({ id }) => id === clusterId)?.name ?? '';
  return (
    <Paper>
      <h1 className="text-2xl font-semibold">Ledger of locked decisions: {plan.settings.name}</h1>
      <p className="quiet">
        Revision {revision}. What is listed cannot change while its cluster runs; another value is a rebuild.
      </p>
      {clusters.length === 0 && <p className="mt-4">Nothing is locked: no cluster is marked as built.</p>}
      {clusters.map((cluster) => (
        <section key={cluster} className="mt-5">
          <h2 className="rule-b text-lg font-semibold">{cluster}</h2>
          <Decisions rows={rows.filter((row) => row.cluster === cluster)} />
        </section>
      ))}
      <section className="mt-6">
        <h2 className="rule-b text-lg font-semibold">Rebuilds decided: {plan.rebuilds.length}</h2>
        {plan.rebuilds.map(({ id, clusterId, what, reason, decidedOn, decidedBy }) => (
          <article key={id} className="rule-b py-1.5">
            <p>
              <strong>{nameOf(clusterId)}</strong>, {decidedOn}, {decidedBy}
            </p>
            <p>{what}</p>
            <p className="quiet">{reason}</p>
          </article>
        ))}
      </section>
    </Paper>
  );
}

function Decisions({ rows }: { readonly rows: readonly LockedDecision[] }) {
  return (
    <table className="w-full">
      <tbody>
        {rows.map(({ id, decision, value }) => (
          <tr key={id} className="rule-b">
            <th scope="row" className="w-1/2 py-0.5 text-left font-normal">
              {decision}
            </th>
            <td className="font-mono">{value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
