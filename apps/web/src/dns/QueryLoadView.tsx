import type { QueryLoad, Saving } from '@wide-lattice/core/naming';
import { setOperation } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { DomainName } from '../shared/DomainName';
import { Empty, Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';

const words: Readonly<Record<Saving, string>> = {
  'as it is': 'As it is',
  'final dots': 'Final dot on external names',
  'ndots 2': 'ndots 2',
  'per-node cache': 'Per-node DNS cache',
};

/** Queries per second at a cluster’s DNS, by what its workloads ask for, and what each saving leaves. */
export function QueryLoadView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const asking = new Set(
    plan.workloads
      .filter(({ callsTo, lookUps }) => callsTo.length > 0 && lookUps > 0)
      .map(({ clusterId }) => clusterId),
  );
  const clusters = [...plan.clusters].sort((a, b) => Number(asking.has(b.id)) - Number(asking.has(a.id)));
  const chosen = clusters.find(({ id }) => id === search.get('of')) ?? clusters[0];
  const load = useSlice('queryLoad', chosen?.id ?? '');
  if (chosen === undefined) return <Empty>No clusters yet.</Empty>;
  return (
    <>
      <div className="rule-b px-4 py-2">
        <Choice
          label="Cluster"
          options={clusters.map(({ id, name }) => ({ value: id, label: name }))}
          value={chosen.id}
          onChoose={(of) => set({ of })}
        />
      </div>
      {load?.cluster.id === chosen.id && <Outcome load={load} />}
    </>
  );
}

function Outcome({ load: { cluster, names, cases, replicas, planned } }: { readonly load: QueryLoad }) {
  const commit = useCommit();
  const [now] = cases;
  const most = Math.max(1, ...cases.map(({ perSecond }) => perSecond));
  const set = async (what: string, operations: readonly Operation[]) => {
    const problem = await commit(what, operations);
    if (problem === '') toast.success('Applied.');
    else toast.error(problem);
  };
  if (names.length === 0)
    return (
      <Empty>
        No workload of {cluster.name} says which names it asks for, and how often. Enter “Calls to” and “DNS lookups” of
        its workloads at Ingress.
      </Empty>
    );
  const rate = now?.perSecond ?? 0;
  return (
    <>
      <section aria-label="Verdict" className="rule-b px-4 py-3">
        <p className="text-[15px]">
          {cluster.name} sends {say(rate)} queries per second to its DNS, {say(rate / planned)} to each of {planned}{' '}
          {planned === 1 ? 'replica' : 'replicas'}.
        </p>
        <p className="quiet">
          Its size asks for {replicas} replicas: one for each 256 cores and for each 16 nodes, at least 2.
          {planned < replicas && ' Fewer are planned.'}
        </p>
      </section>
      <Part title="Queries per second by saving">
        <table className="w-full" aria-label="Savings">
          <TableHead labels={['Saving', 'Per second', 'Share', 'Change']} rightFrom={1} />
          <tbody>
            {cases.map(({ saving, perSecond }) => (
              <tr key={saving} className="rule-b">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal whitespace-nowrap">
                  {words[saving]}
                </th>
                <td className="pr-3 text-right">{say(perSecond)}</td>
                <td className="w-1/3">
                  <span className="bg-primary block h-2" style={{ width: `${(100 * perSecond) / most}%` }} />
                </td>
                <td className="text-right">
                  {saving === 'ndots 2' && cluster.ndots !== 2 && (
                    <button
                      type="button"
                      className="btn btn-xs btn-outline"
                      onClick={() =>
                        void set(`Set ndots of ${cluster.name} to 2`, [
                          setOperation('clusters', cluster.id, { ndots: 2 }),
                        ])
                      }
                    >
                      Apply
                    </button>
                  )}
                  {saving === 'per-node cache' && !cluster.hasNodeCache && (
                    <button
                      type="button"
                      className="btn btn-xs btn-outline"
                      onClick={() =>
                        void set(`Cache names on the nodes of ${cluster.name}`, [
                          setOperation('clusters', cluster.id, { hasNodeCache: true }),
                        ])
                      }
                    >
                      Apply
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Part>
      <Part title="Names looked up">
        <table className="w-full" aria-label="Names looked up">
          <TableHead labels={['Name', 'Workload', 'Found as', 'Lookups', 'Queries each']} rightFrom={3} />
          <tbody>
            {names.map(({ workload, name, found, lookUps, queries }) => (
              <tr key={`${workload.id} ${name}`} className="rule-b align-top">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  <DomainName name={name} />
                </th>
                <td className="pr-2">
                  {workload.namespace}/{workload.name}
                </td>
                <td className="quiet pr-2">{found === 'outside' ? 'outside the plan' : <DomainName name={found} />}</td>
                <td className="text-right whitespace-nowrap">{say(lookUps)} per s</td>
                <td className="text-right">{queries}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Part>
    </>
  );
}

function say(value: number): string {
  return value.toLocaleString('en-US', { maximumFractionDigits: value < 10 ? 1 : 0 });
}
