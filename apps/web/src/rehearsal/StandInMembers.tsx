import { formatCount, formatNumber } from '@wide-lattice/core/working';
import type { StandInReport } from '@wide-lattice/standins/choices';
import { Minus, Plus } from 'lucide-react';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';

interface MembersProps {
  readonly report: StandInReport;
  readonly isBusy: boolean;
  readonly onAct: (run: () => Promise<unknown>) => void;
}

type Workload = StandInReport['workloads'][number];

/** Who answers, pod by pod and address by address: each can be stopped, and is gone for clients once health checks find it. */
export function StandInMembers({
  report: { workloads, workloadCount, addresses, healthSeconds },
  isBusy,
  onAct,
}: MembersProps) {
  const { planId } = usePlan().session;
  if (workloads.length + addresses.length === 0) return null;
  return (
    <Part title="Members">
      {healthSeconds > 0 && (
        <p className="quiet mb-1">
          A stopped member is called until health checks find it, within {formatNumber(healthSeconds)} s.
        </p>
      )}
      <table className="w-full" aria-label="Members">
        <TableHead labels={['Member', 'Cluster', 'Ready', '']} />
        <tbody>
          {workloads.map((each) => (
            <WorkloadRow
              key={each.id}
              workload={each}
              isBusy={isBusy}
              onStop={(count) => {
                onAct(() => api.stopPods(planId, each.id, count));
              }}
            />
          ))}
          {addresses.map(({ address, isStopped }) => (
            <tr key={address} className="rule-b">
              <th scope="row" className="py-0.5 pr-3 text-left font-normal tabular-nums">
                {address}
              </th>
              <td className="pr-3">fixed address</td>
              <td className={isStopped ? 'text-warning font-semibold' : ''}>{isStopped ? 'stopped' : 'answers'}</td>
              <td className="text-right">
                <button
                  type="button"
                  className="btn btn-xs btn-ghost"
                  aria-label={`${isStopped ? 'Start' : 'Stop'} ${address}`}
                  disabled={isBusy}
                  onClick={() => {
                    onAct(() => api.stopAddress(planId, address, !isStopped));
                  }}
                >
                  {isStopped ? 'Start' : 'Stop'}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={workloadCount} shown={workloads.length} />
    </Part>
  );
}

interface WorkloadRowProps {
  readonly workload: Workload;
  readonly isBusy: boolean;
  readonly onStop: (count: number) => void;
}

function WorkloadRow({
  workload: { name, cluster, replicas, ready, stopped, isFound },
  isBusy,
  onStop,
}: WorkloadRowProps) {
  const button = (label: string, Icon: typeof Plus, isOff: boolean, count: number) => (
    <button
      type="button"
      className="btn btn-xs btn-ghost btn-square"
      aria-label={label}
      title={label}
      disabled={isBusy || isOff}
      onClick={() => {
        onStop(count);
      }}
    >
      <Icon size={13} aria-hidden />
    </button>
  );
  return (
    <tr className="rule-b">
      <th scope="row" className="py-0.5 pr-3 text-left font-normal">
        {name}
      </th>
      <td className="pr-3">{cluster}</td>
      <td className={`pr-3 tabular-nums ${ready < replicas ? 'text-warning font-semibold' : ''}`}>
        {formatNumber(ready)} of {formatCount(replicas, 'pod')}
        {!isFound && <span className="quiet"> {formatNumber(stopped)} stopped</span>}
      </td>
      <td className="text-right whitespace-nowrap">
        {button(`Stop one pod of ${name} in ${cluster}`, Minus, stopped >= replicas, stopped + 1)}
        {button(`Start one pod of ${name} in ${cluster} again`, Plus, stopped === 0, stopped - 1)}
      </td>
    </tr>
  );
}
