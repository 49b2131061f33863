import { formatNumber } from '@wide-lattice/core/working';
import type { LoadResult } from '@wide-lattice/core/load';
import { useState } from 'react';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import type { ShownTarget } from '../worker/slices/ingressSlices';
import { FlowDrawing } from './FlowDrawing';
import { OverTime } from './OverTime';

type Via = (ShownTarget & { readonly ok: true })['via'];

interface OutcomeProps {
  readonly result: LoadResult;
  readonly seconds: number;
  readonly via: Via;
}

/** What came of a load: a sentence, the way of the requests, charts over the time with a table behind, shares by workload and zone. */
export function LoadOutcome({ result, seconds, via }: OutcomeProps) {
  const { total } = result;
  const isWhole = total.answered >= total.offered - result.inside - 1;
  return (
    <>
      <section aria-label="Outcome" className="rule-b px-4 py-2.5">
        <p className="text-[15px]">
          Of {count(total.offered)} requests{' '}
          <strong className={isWhole ? 'text-success' : 'text-error'}>{percent(total.answered, total.offered)}</strong>{' '}
          are answered
          {total.p95 === undefined ? '' : `, 95 of 100 within ${ms(total.p95)}, 99 within ${ms(total.p99)}`}.{' '}
          {result.waited === 0 ? 'None' : percentOf(result.waited)} had to wait.
        </p>
        <p className="quiet">{endings(result)}</p>
      </section>
      <Part title="Traffic flow">
        <FlowDrawing result={result} seconds={seconds} via={via} />
      </Part>
      <Part title="Over time">
        <OverTime result={result} seconds={seconds} />
      </Part>
      <Part title="Shares">
        <Shares result={result} />
      </Part>
    </>
  );
}

function endings({ total }: LoadResult): string {
  const all = [
    [total.limited, 'refused by the rate limit (429)'],
    [total.refused, 'refused since no member took them (503)'],
    [total.timedOut, 'timed out at the client'],
    [total.failed, 'lost with their pods'],
  ] as const;
  // What is neither answered nor lost when the time is over is on its way still.
  const underWay = total.offered - total.answered - all.reduce((sum, [each]) => sum + each, 0);
  const some = all.filter(([each]) => each > 0).map(([each, words]) => `${count(each)} ${words}`);
  const lost = some.length === 0 ? 'None is refused, timed out or lost' : some.join('; ');
  return `${lost}${underWay > 0 ? `; ${count(underWay)} ${underWay === 1 ? 'is' : 'are'} still under way at the end` : ''}.`;
}

/** What each workload did in each zone. */
function Shares({ result: { members, total } }: { readonly result: LoadResult }) {
  const [isByPod, setByPod] = useState(false);
  const groups = new Map<string, { name: string; zone: string; answered: number; used: number; pods: number }>();
  for (const member of members.filter(({ served }) => served > 0)) {
    const key = isByPod ? member.name : `${member.group} ${member.zone}`;
    const known = groups.get(key) ?? {
      name: isByPod ? member.name : member.group,
      zone: member.zone,
      answered: 0,
      used: 0,
      pods: 0,
    };
    groups.set(key, known);
    known.answered += member.answered;
    known.used += member.used;
    known.pods++;
  }
  const rows = [...groups.values()].sort((a, b) =>
    a.name < b.name ? -1 : a.name > b.name ? 1 : a.zone < b.zone ? -1 : 1,
  );
  return (
    <>
      <button type="button" className="btn btn-xs btn-ghost -mt-1 mb-1" onClick={() => setByPod(!isByPod)}>
        {isByPod ? 'By workload and zone' : 'Pod by pod'}
      </button>
      <table className="w-full" aria-label="Shares of the load">
        <TableHead labels={['Workload', 'Zone', 'Pods', 'Answered', 'Share', 'Utilization']} rightFrom={2} />
        <tbody>
          {rows.slice(0, MAX_ROWS).map(({ name, zone, answered, used, pods }) => (
            <tr key={`${name} ${zone}`} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                {name}
              </th>
              <td>{zone}</td>
              <td className="text-right">{pods}</td>
              <td className="text-right">{count(answered)}</td>
              <td className="text-right">{percent(answered, total.answered)}</td>
              <td className="text-right">{percentOf(used / pods)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > MAX_ROWS && <p className="quiet">and {rows.length - MAX_ROWS} more</p>}
    </>
  );
}

const MAX_ROWS = 100;

function count(value: number): string {
  return formatNumber(Math.round(value));
}

/** Shares near all or nothing keep the digit that tells them from it. */
function percentOf(share: number): string {
  const digits = share > 0.999 || share < 0.001 ? 3 : 1;
  return `${(100 * share).toLocaleString('en-US', { maximumFractionDigits: digits })} %`;
}

function percent(part: number, whole: number): string {
  return percentOf(whole === 0 ? 0 : part / whole);
}

function ms(value: number | undefined): string {
  if (value === undefined) return '';
  if (value >= 1000) return `${(value / 1000).toFixed(1)} s`;
  return `${value >= 100 ? Math.round(value) : Number(value.toPrecision(2))} ms`;
}
