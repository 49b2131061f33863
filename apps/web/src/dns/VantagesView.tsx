import { formatCount, formatNames, formatNumber } from '@wide-lattice/core/working';
import type { Plan } from '@wide-lattice/core/plan';
import { useDeferredValue, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { DomainName } from '../shared/DomainName';
import { Computing, Empty } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import type { ShownNameRow, ShownVantages } from '../worker/slices/dnsSlices';
import { formatTime } from './formatTime';

const MAX_ROWS = 300;

/** Names down, vantages across: the answer in the cell, and rows set off in which vantages get different ones. A cell opens its question. */
export function VantagesView() {
  const [search] = useSearchState();
  const filter = search.get('names') ?? '';
  const only = search.get('rows') === 'differ';
  const [typed, setTyped] = useState('');
  const answer = useSlice('vantages', useDeferredValue(typed));
  const [last, setLast] = useState<ShownVantages>();
  // While a name is typed that is none yet, what was shown before stays.
  if (answer?.ok === true && answer.value !== last) setLast(answer.value);
  const table = answer?.ok === true ? answer.value : last;
  if (table === undefined) return <Computing />;
  if (table.rows.length === 0 && typed === '')
    return (
      <Empty>No names yet. Enter zones and records, or routes with hosts: who gets which answer is shown here.</Empty>
    );
  const rows = table.rows.filter(
    ({ name, differs }, at) =>
      (at === 0 && typed !== '') || (name.includes(filter.toLowerCase()) && (!only || differs)),
  );
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <NamesBar shown={rows.length} all={table.rows.length} typed={typed} onType={setTyped} />
      {answer?.ok === false && (
        <p role="alert" className="text-error px-4 py-1">
          {answer.problem.message} {answer.problem.fix}
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="group" aria-label="Names at vantages">
        <Grid table={table} rows={rows.slice(0, MAX_ROWS)} />
        {rows.length > MAX_ROWS && (
          <p className="quiet px-4 py-1">and {rows.length - MAX_ROWS} others: filter by name to see them</p>
        )}
      </div>
    </div>
  );
}

interface NamesBarProps {
  readonly shown: number;
  readonly all: number;
  /** A name that is looked up beside those of the plan. */
  readonly typed: string;
  readonly onType: (name: string) => void;
}

/** Which names are listed: those that differ, those that a text is in, and one more that is typed. */
function NamesBar({ shown, all, typed, onType }: NamesBarProps) {
  const [search, set] = useSearchState();
  return (
    <div className="rule-b flex flex-wrap items-center gap-2 px-4 py-1.5">
      <span className="quiet">
        {formatNumber(shown)} of {formatCount(all, 'name')}
      </span>
      <select
        className="select select-sm ml-auto w-40"
        aria-label="Which names"
        value={search.get('rows') === 'differ' ? 'differ' : ''}
        onChange={(event) => set({ rows: event.target.value })}
      >
        <option value="">all names</option>
        <option value="differ">that differ</option>
      </select>
      <input
        className="input input-sm w-36"
        placeholder="Filter by name"
        aria-label="Filter the names"
        value={search.get('names') ?? ''}
        onChange={(event) => set({ names: event.target.value })}
      />
      <input
        className="input input-sm w-44"
        placeholder="Any other name"
        aria-label="Any other name"
        value={typed}
        onChange={(event) => onType(event.target.value)}
      />
    </div>
  );
}

function Grid({
  table: { vantages },
  rows,
}: {
  readonly table: ShownVantages;
  readonly rows: readonly ShownNameRow[];
}) {
  const { plan } = usePlan();
  const [, set] = useSearchState();
  return (
    <table className="w-full" aria-label="Split horizon">
      <GridHead vantages={vantages} />
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="rule-b align-top">
            <th
              scope="row"
              className={`min-w-32 py-1 pr-1 pl-4 text-left text-[13px] leading-snug ${row.differs ? 'font-semibold' : 'font-normal'}`}
            >
              <DomainName name={row.name} />
              {row.differs && <div className="quiet text-xs font-normal">differs</div>}
            </th>
            {row.answers.map((answer, i) => {
              const vantage = vantages[i];
              return vantage === undefined ? null : (
                <AnswerCell
                  key={vantage.key}
                  name={row.name}
                  answer={answer}
                  label={vantage.label}
                  isOdd={row.differs && answer.text !== row.answers[0]?.text}
                  onAsk={() =>
                    set({
                      side: 'question',
                      from: placeOf(plan, vantage.key),
                      to: `name ${row.name}. type A`,
                      bytes: '1280',
                    })
                  }
                />
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function GridHead({ vantages }: Pick<ShownVantages, 'vantages'>) {
  return (
    <thead className="bg-base-100 sticky top-0">
      <tr className="rule-b">
        <th scope="col" className="px-4 py-1 text-left align-top font-semibold">
          Name
        </th>
        {vantages.map(({ key, label, alike }) => (
          <th
            key={key}
            scope="col"
            className="max-w-32 px-1 py-1 text-left align-top text-[13px] font-semibold"
            title={[label, ...alike].join(', ')}
          >
            {label}
            {alike.length > 0 && <div className="quiet text-xs leading-tight font-normal">{formatNames(alike)}</div>}
          </th>
        ))}
      </tr>
    </thead>
  );
}

function AnswerCell({
  name,
  answer: { text, ttl, isAnswer },
  label,
  isOdd,
  onAsk,
}: {
  readonly name: string;
  readonly answer: ShownNameRow['answers'][number];
  /** Of the vantage. */
  readonly label: string;
  readonly isOdd: boolean;
  readonly onAsk: () => void;
}) {
  return (
    <td className="p-0">
      <button
        type="button"
        className={`w-full px-1 py-1 text-left text-xs hover:underline ${isAnswer ? 'font-mono' : 'quiet'} ${isOdd ? 'bg-base-200' : ''}`}
        title={`${name} from ${label}: ${text}${ttl > 0 ? ` for ${formatTime(ttl)}` : ''}. Ask the question.`}
        onClick={onAsk}
      >
        {text}
      </button>
    </td>
  );
}

/** A place of the question bar that asks from a vantage. */
function placeOf(plan: Plan, key: string): string {
  if (key === 'internet') return 'the internet';
  const cluster = plan.clusters.find((each) => each.id === key);
  if (cluster !== undefined) return `pod of ${cluster.name}`;
  const inside = plan.clusters.find(({ networkId }) => networkId === key);
  if (inside !== undefined) return `node of ${inside.name}`;
  const network = plan.networks.find(({ id }) => id === key)?.name ?? '';
  const subnet =
    plan.subnets.find(({ networkId }) => networkId === key)?.prefix ??
    plan.inUse.find(({ networkId }) => networkId === key)?.prefix;
  return `${subnet?.split('/')[0]?.replace(/\.0$/, '.9') ?? '192.0.2.9'} in ${network}`;
}
