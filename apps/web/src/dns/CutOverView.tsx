import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Empty, Part } from '../shared/Halves';
import { LineChart } from '../shared/LineChart';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ShownCutOver } from '../worker/slices/dnsSlices';
import { formatTime } from './formatTime';

const colours = ['--color-error', '--color-warning', '--color-primary', '--color-info', '--color-success'] as const;
const dashes = [[], [6, 3], [2, 2], [8, 3, 2, 3], [1, 3]] as const;

/** A load balancer or address is replaced: who still goes to the old one until when, and what to do before. */
export function CutOverView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const [minutes, setMinutes] = useState('10');
  const addresses = useMemo(() => {
    const held = plan.balancers.flatMap(({ name, address }) =>
      address === null ? [] : [{ value: address, label: `${address}, ${name}` }],
    );
    const known = new Set(held.map(({ value }) => value));
    const led = plan.records.filter(
      ({ type, value }) => (type === 'A' || type === 'AAAA') && !known.has(value) && known.add(value),
    );
    return [...held, ...led.map(({ value }) => ({ value, label: value }))];
  }, [plan]);
  const address = addresses.find(({ value }) => value === search.get('address'))?.value ?? addresses[0]?.value ?? '';
  const aim = Math.round(Number(minutes) * 60);
  const isAim = Number.isFinite(aim) && aim >= 0 && aim <= 604_800 && minutes.trim() !== '';
  const found = useSlice('cutOver', address, isAim ? aim : 600);
  if (address === '') return <Empty>No load balancer and no record has an address yet.</Empty>;
  return (
    <>
      <div className="rule-b flex items-end gap-3 px-4 py-2">
        <Choice
          label="What is replaced"
          options={addresses}
          value={address}
          onChoose={(value) => set({ address: value })}
        />
        <div>
          <label htmlFor="cut-over-aim" className="block">
            To be done within, minutes
          </label>
          <input
            id="cut-over-aim"
            type="number"
            min={0}
            max={10_080}
            className="input input-sm w-28"
            value={minutes}
            onChange={(event) => setMinutes(event.target.value)}
          />
        </div>
      </div>
      {!isAim && (
        <p role="alert" className="text-error px-4 py-1">
          “{minutes}” is no time. Write minutes from 0 to 10,080.
        </p>
      )}
      {found !== undefined && <Outcome found={found} aim={aim} />}
    </>
  );
}

function Outcome({ found, aim }: { readonly found: ShownCutOver; readonly aim: number }) {
  const commit = useCommit();
  const { moving, clients, steps, lowering, curves, last, done } = found;
  const lines = useMemo(
    () =>
      curves.map(({ label, points }, i) => ({
        label,
        points,
        colour: colours[i] ?? '--color-primary',
        dash: dashes[i] ?? [],
      })),
    [curves],
  );
  if (moving.length === 0) return <Empty>No name resolves to that address: no client has to move.</Empty>;
  const apply = async () => {
    const problem = await commit('Lower TTLs before a cut-over', lowering);
    if (problem === '') toast.success('Lowered. Wait as long as the old TTL before the change.');
    else toast.error(problem);
  };
  return (
    <>
      <section aria-label="Verdict" className="rule-b px-4 py-3">
        <p className="text-[15px]">
          {done <= aim
            ? `All who follow the records have left after ${formatTime(done)}, within the aim.`
            : `After the change some still go to the old address for ${formatTime(done)}: the aim of ${formatTime(aim)} is missed.`}
        </p>
      </section>
      <Part
        title="What to do, and when"
        aside={
          lowering.length > 0 && (
            <button type="button" className="btn btn-sm btn-primary" onClick={() => void apply()}>
              Lower {lowering.length} {lowering.length === 1 ? 'TTL' : 'TTLs'} now
            </button>
          )
        }
      >
        <Steps steps={steps} />
      </Part>
      <Part title="Who still goes to the old address">
        <LineChart
          title="Of each 100 clients, by the time after the change"
          about="Share of clients at the old address over time; the table has the figures"
          lines={lines}
          last={last}
          most={100}
          legend="bottom"
          formatTime={formatTime}
        />
        <Clients clients={clients} />
      </Part>
      <Moving moving={moving} />
    </>
  );
}

function Steps({ steps }: Pick<ShownCutOver, 'steps'>) {
  return (
    <ol className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1">
      {steps.map(({ at, description }) => (
        <li key={`${at} ${description}`} className="contents">
          <span className="quiet text-right whitespace-nowrap">
            {at === 0 ? 'at the change' : at < 0 ? `${formatTime(-at)} before` : `${formatTime(at)} after`}
          </span>
          <span>{description}</span>
        </li>
      ))}
    </ol>
  );
}

function Clients({ clients }: Pick<ShownCutOver, 'clients'>) {
  return (
    <table className="w-full" aria-label="Clients and until when they stay">
      <TableHead labels={['Clients', 'TTL', 'Last one leaves']} rightFrom={1} />
      <tbody>
        {clients.map(({ who, ttl, until }) => (
          <tr key={who} className="rule-b">
            <th scope="row" className="py-0.5 pr-2 text-left font-normal">
              {who}
            </th>
            <td className="text-right whitespace-nowrap">{formatTime(ttl)}</td>
            <td className="pl-3 text-right whitespace-nowrap">{formatTime(until)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The records that lead to the address. */
function Moving({ moving }: Pick<ShownCutOver, 'moving'>) {
  return (
    <Part title="Records that lead there">
      <table className="w-full" aria-label="Records that lead there">
        <TableHead labels={['Name', 'Zone', 'Type', 'TTL']} rightFrom={3} />
        <tbody>
          {moving.map(({ zoneId, zoneName, name, type, ttl, recordControllerId }) => (
            <tr key={`${zoneId} ${name} ${type}`} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                {name}
                {recordControllerId !== undefined && <span className="quiet"> kept</span>}
              </th>
              <td className="pr-2">{zoneName}</td>
              <td>{type}</td>
              <td className="text-right whitespace-nowrap">{formatTime(ttl)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}
