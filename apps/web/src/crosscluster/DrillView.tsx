import { formatNames, formatNumber } from '@wide-lattice/core/working';
import { X } from 'lucide-react';
import { useMemo } from 'react';
import { useSlice } from '../plan/useSlice';
import { AddByName } from '../shared/AddByName';
import { Computing, Empty, Part } from '../shared/Halves';
import { IconButton } from '../shared/IconButton';
import { TableHead } from '../shared/TableHead';
import { searchNow, useSearchState } from '../shared/useSearchState';
import { PlannedOnly } from './PlannedOnly';
import type { ShownChange, ShownDrill, ShownFault } from '../worker/slices/crossSlices';

/** What fails, and what still reaches what: one drill, or two beside one another. The address holds them. */
export function DrillView() {
  const faults = useSlice('faults');
  const [search] = useSearchState();
  const hasSecond = search.get('second') !== null;
  if (faults === undefined) return <Computing />;
  if (faults.length === 0)
    return (
      <PlannedOnly what="What a failure costs">
        <Empty>No connection is active yet. Once one is, its gateways, zones and links can fail here.</Empty>
      </PlannedOnly>
    );
  return (
    <>
      <DrillPart faults={faults} name="first" title={hasSecond ? 'First drill' : 'Drill'} />
      <Second faults={faults} />
    </>
  );
}

function Second({ faults }: { readonly faults: readonly ShownFault[] }) {
  const [search, set] = useSearchState();
  const first = keysOf(search.get('first'));
  const second = search.get('second');
  if (second === null)
    return first.length === 0 ? null : (
      <p className="px-4 py-3">
        <button type="button" className="btn btn-sm btn-outline" onClick={() => set({ second: ' ' })}>
          Compare with another drill
        </button>
      </p>
    );
  return (
    <>
      <DrillPart faults={faults} name="second" title="Second drill" />
      <Compared first={first} second={keysOf(second)} />
    </>
  );
}

function keysOf(text: string | null): readonly string[] {
  return (text ?? '').split(' ').filter((key) => key !== '');
}

function DrillPart({
  faults,
  name,
  title,
}: {
  readonly faults: readonly ShownFault[];
  readonly name: 'first' | 'second';
  readonly title: string;
}) {
  const [search, set] = useSearchState();
  const keys = keysOf(search.get(name));
  const drill = useSlice('drill', keys);
  const chosen = faults.filter(({ key }) => keys.includes(key));
  const change = (made: (keys: readonly string[]) => readonly string[]) => {
    const next = made(keysOf(searchNow().get(name)));
    set({ [name]: next.length === 0 ? (name === 'second' ? ' ' : '') : next.join(' ') });
  };
  return (
    <Part
      title={title}
      aside={
        name === 'second' && (
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => set({ second: '' })}>
            Remove
          </button>
        )
      }
    >
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <AddByName
          label={`What fails, ${title.toLowerCase()}`}
          what="fault"
          options={faults.filter(({ key }) => !keys.includes(key)).map(({ key, label }) => ({ id: key, name: label }))}
          onAdd={(key) => change((all) => [...all, key])}
        />
        {chosen.map(({ key, label }) => (
          <span key={key} className="border-base-300 flex items-center gap-1 border py-0.5 pr-0.5 pl-2">
            {label}
            <IconButton
              label={`Leave out ${label}`}
              onClick={() => change((all) => all.filter((each) => each !== key))}
            >
              <X size={13} aria-hidden />
            </IconButton>
          </span>
        ))}
      </div>
      {chosen.length === 0 ? (
        <ToBegin faults={faults} onChoose={(key) => change(() => [key])} />
      ) : (
        drill !== undefined && <Outcome drill={drill} />
      )}
    </Part>
  );
}

/** One fault of each kind, while none is chosen. */
function ToBegin({
  faults,
  onChoose,
}: {
  readonly faults: readonly ShownFault[];
  readonly onChoose: (key: string) => void;
}) {
  return (
    <>
      <p className="quiet">
        Gateways, relays, zones, whole sites, links, tunnels, rendezvous, members: type one, or several that fail at
        once. To begin with:
      </p>
      <ul className="mt-1 flex flex-wrap gap-2">
        {oneOfEach(faults).map(({ key, label }) => (
          <li key={key}>
            <button type="button" className="btn btn-xs btn-outline" onClick={() => onChoose(key)}>
              {label}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The first fault of each kind: their keys begin with it. */
function oneOfEach(faults: readonly ShownFault[]): readonly ShownFault[] {
  const first = new Map<string, ShownFault>();
  for (const fault of faults) {
    const kind = fault.key.slice(0, fault.key.indexOf('~'));
    if (!first.has(kind)) first.set(kind, fault);
  }
  return [...first.values()];
}

function Outcome({ drill }: { readonly drill: ShownDrill }) {
  const { reachedBefore, reachedAfter, changes, members, exports, notes } = drill;
  const lost = reachedBefore - reachedAfter;
  const slowest = Math.max(0, ...changes.map(({ seconds }) => seconds ?? 0));
  return (
    <>
      <p className={`text-[15px] ${lost > 0 ? 'text-error font-semibold' : ''}`}>
        {lost > 0
          ? `${lost} of ${reachedBefore} uses are lost.`
          : changes.length === 0
            ? `All ${reachedBefore} uses go on, unchanged.`
            : `All ${reachedBefore} uses go on; the last of them after ${slowest} s.`}
      </p>
      <p className="quiet">
        This covers calls of exported services only. For other ways, such as to the internet, ask a question with a lost
        zone.
      </p>
      {notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      {changes.length > 0 && (
        <table className="mt-2 w-full" aria-label="What changes">
          <TableHead labels={['What happens', 'Service', 'Clusters', 'Answered by', 'After']} rightFrom={4} />
          <tbody>
            {[...changes]
              .sort((a, b) => rank(a) - rank(b))
              .map((change) => (
                <tr
                  key={`${change.service} ${change.outcome} ${change.clusters[0] ?? ''}`}
                  className="rule-b align-top"
                >
                  <th
                    scope="row"
                    className={`py-0.5 pr-2 text-left font-semibold ${change.seconds === undefined ? 'text-error' : ''}`}
                  >
                    {change.outcome}
                  </th>
                  <td className="pr-2">
                    {change.service}
                    <div className="quiet text-xs">{change.connection}</div>
                  </td>
                  <td className="pr-2" title={change.clusters.join(', ')}>
                    {formatNames(change.clusters)}
                  </td>
                  <td className="pr-2">
                    {change.seconds === undefined
                      ? `${change.clusters.length > 1 ? `${change.clusters[0] ?? ''}: ` : ''}${change.description}`
                      : change.after === change.before
                        ? change.after
                        : `${change.before} before, then ${change.after}`}
                  </td>
                  <td className="text-right whitespace-nowrap">
                    {change.seconds === undefined ? 'stays' : `${change.seconds} s`}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
      {members.length > 0 && (
        <table className="mt-3 w-full" aria-label="Gateways that are left">
          <TableHead labels={['Member', 'Left', 'Carries now', 'Takeover', 'Capacity left', 'Planned']} rightFrom={3} />
          <tbody>
            {members.map(({ cluster, connection, method, carries, left, leftMbps, plannedMbps, seconds }) => (
              <tr key={`${cluster} ${connection}`} className="rule-b">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  {cluster} <span className="quiet">{connection}</span>
                </th>
                <td className={carries === undefined ? 'text-error font-semibold' : ''}>{left}</td>
                <td>{carries === undefined ? 'none' : `${method === 'relays' ? 'relay' : 'gateway'} ${carries}`}</td>
                <td className="text-right">{carries === undefined ? '' : `${seconds} s`}</td>
                <td
                  className={`text-right ${leftMbps !== undefined && plannedMbps !== undefined && leftMbps < plannedMbps ? 'text-error font-semibold' : ''}`}
                >
                  {leftMbps === undefined ? 'not said' : `${formatNumber(leftMbps)} Mbit/s`}
                </td>
                <td className="text-right">
                  {plannedMbps === undefined ? 'not said' : `${formatNumber(plannedMbps)} Mbit/s`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {exports.length > 0 && (
        <table className="mt-3 w-full" aria-label="Pods that are left">
          <TableHead labels={['Exported service', 'Cluster', 'Pods left']} rightFrom={2} />
          <tbody>
            {exports.map(({ cluster, service, pods, left }) => (
              <tr key={`${cluster} ${service}`} className="rule-b">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  {service}
                </th>
                <td>{cluster}</td>
                <td className={`text-right ${left === 0 ? 'text-error font-semibold' : ''}`}>
                  {left} of {pods}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

const ranks = ['lost', 'gone', 'fails over', 'fewer', 'interrupted'];

function rank({ outcome }: ShownChange): number {
  return ranks.indexOf(outcome);
}

/** Two drills beside one another, what differs first. */
function Compared({ first, second }: { readonly first: readonly string[]; readonly second: readonly string[] }) {
  const [one, other] = [useSlice('drill', first), useSlice('drill', second)];
  const rows = useMemo(() => (one === undefined || other === undefined ? [] : differences(one, other)), [one, other]);
  if (one === undefined || other === undefined) return null;
  return (
    <Part title="First and second compared">
      <table className="w-full" aria-label="Two drills compared">
        <TableHead labels={['', 'First', 'Second']} />
        <tbody>
          {[
            ['Uses lost', one.reachedBefore - one.reachedAfter, other.reachedBefore - other.reachedAfter],
            ['Longest wait, s', longest(one), longest(other)],
          ].map(([label, a, b]) => (
            <tr key={label} className="rule-b">
              <th scope="row" className="py-0.5 text-left font-normal">
                {label}
              </th>
              <td>{a}</td>
              <td>{b}</td>
            </tr>
          ))}
          {rows.map(({ label, a, b }) => (
            <tr key={label} className={`rule-b ${a === b ? '' : 'bg-base-200'}`}>
              <th scope="row" className={`py-0.5 pr-2 text-left ${a === b ? 'font-normal' : 'font-semibold'}`}>
                {label}
              </th>
              <td>{a}</td>
              <td>{b}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}

function longest({ changes }: ShownDrill): number {
  return Math.max(0, ...changes.map(({ seconds }) => seconds ?? 0));
}

const MAX_COMPARED = 80;

function differences(one: ShownDrill, other: ShownDrill): { label: string; a: string; b: string }[] {
  const said = ({ changes }: ShownDrill) =>
    new Map(
      changes.flatMap(({ clusters, service, outcome, seconds }) =>
        clusters.map(
          (cluster) =>
            [`${cluster}, ${service}`, seconds === undefined ? outcome : `${outcome}, ${seconds} s`] as const,
        ),
      ),
    );
  const [a, b] = [said(one), said(other)];
  return [...new Set([...a.keys(), ...b.keys()])]
    .map((label) => ({ label, a: a.get(label) ?? 'as before', b: b.get(label) ?? 'as before' }))
    .sort((x, y) => Number(x.a === x.b) - Number(y.a === y.b) || (x.label < y.label ? -1 : 1))
    .slice(0, MAX_COMPARED);
}
