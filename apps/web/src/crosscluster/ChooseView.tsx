import type { JoinNeeds, JoinWish } from '@wide-lattice/core/crosscluster';
import { joinCriteria } from '@wide-lattice/core/crosscluster';
import { byId, tunnelNames } from '@wide-lattice/core/plan';
import type { JoinWay } from '@wide-lattice/core/plan';
import { useDeferredValue, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer, useSlice } from '../plan/useSlice';
import { AddByName } from '../shared/AddByName';
import { ComparedTable } from '../shared/ComparedTable';
import { Computing, Empty, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { Tick } from '../shared/Tick';
import { useSearchState } from '../shared/useSearchState';
import { Weights } from '../shared/Weights';
import { ApplyButton } from '../shared/ApplyButton';
import { TriedPart } from '../shared/TriedPart';

const titles: Readonly<Record<JoinWay, string>> = { tunnels: 'Tunnels', relays: 'Relays', flat: 'Flat' };

/** Clusters that one comparison tries: every way between them is followed, and each kind drilled. */
const MOST_COMPARED = 60;

/** The three kinds side by side for the chosen clusters, with what each brings, and the proposal of one of them. */
export function ChooseView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const join = search.get('join') ?? '';
  const named = useMemo(() => join.split(',').filter((name) => name !== ''), [join]);
  const chosen = useMemo(() => plan.clusters.filter(({ name }) => named.includes(name)), [plan.clusters, named]);
  const [today] = useState(() => new Date().toISOString().slice(0, 10));
  const [wish, setWish] = useState({
    tunnel: 'wireguard' as JoinWish['tunnel'],
    isHub: false,
    gateways: '2',
    rendezvous: '',
    exportsServices: true,
  });
  const [needs, setNeeds] = useState({ planned: '0', each: '1000', anyProtocol: false, sourceKept: false });
  const gateways = whole(wish.gateways, 1, 16);
  const planned = whole(needs.planned, 0, 1_000_000);
  const each = whole(needs.each, 1, 1_000_000);
  const way = (['tunnels', 'relays', 'flat'] as const).find((one) => one === search.get('way'));
  const asked: Omit<JoinWish, 'way'> = {
    name: freeName(
      plan.connections,
      chosen.map(({ name }) => name),
    ),
    clusterIds: chosen.map(({ id }) => id),
    tunnel: wish.tunnel,
    shape: wish.isHub ? 'hub' : 'full mesh',
    gateways: gateways ?? 2,
    rendezvous: wish.rendezvous.trim(),
    today,
    exportsServices: wish.exportsServices,
  };
  const put = (names: readonly string[]) => set({ join: names.join(','), way: '' });
  return (
    <>
      <Part title="Clusters that are to work as one">
        <div className="flex flex-wrap items-center gap-2">
          <AddByName
            label="Add a cluster"
            what="cluster"
            options={plan.clusters.filter(({ name }) => !named.includes(name))}
            onAdd={(id) => put([...named, byId(plan.clusters, id)?.name ?? ''])}
          />
          {chosen.map(({ id, name }) => (
            <button
              key={id}
              type="button"
              className="btn btn-xs btn-outline"
              aria-label={`Leave out ${name}`}
              onClick={() => put(named.filter((one) => one !== name))}
            >
              {name} ×
            </button>
          ))}
        </div>
        <div className="mt-2 grid grid-cols-3 gap-x-4 gap-y-1">
          <label className="block">
            Tunnel
            <select
              className="select select-sm w-full"
              value={wish.tunnel}
              onChange={(event) => setWish({ ...wish, tunnel: event.target.value as JoinWish['tunnel'] })}
            >
              {tunnelNames.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
          <label className="block">
            Gateways each
            <input
              className="input input-sm w-full"
              value={wish.gateways}
              onChange={(event) => setWish({ ...wish, gateways: event.target.value })}
            />
          </label>
          <label className="block">
            Rendezvous
            <input
              className="input input-sm w-full"
              placeholder="address or host name"
              value={wish.rendezvous}
              onChange={(event) => setWish({ ...wish, rendezvous: event.target.value })}
            />
          </label>
          <label className="block">
            Planned traffic, Mbit/s each
            <input
              className="input input-sm w-full"
              value={needs.planned}
              onChange={(event) => setNeeds({ ...needs, planned: event.target.value })}
            />
          </label>
          <label className="block">
            One gateway carries, Mbit/s
            <input
              className="input input-sm w-full"
              value={needs.each}
              onChange={(event) => setNeeds({ ...needs, each: event.target.value })}
            />
          </label>
          <div className="self-end">
            <Tick isOn={wish.isHub} onTick={(isHub) => setWish({ ...wish, isHub })}>
              by a hub, the first one
            </Tick>
          </div>
          <Tick isOn={needs.anyProtocol} onTick={(anyProtocol) => setNeeds({ ...needs, anyProtocol })}>
            any protocol
          </Tick>
          <Tick isOn={needs.sourceKept} onTick={(sourceKept) => setNeeds({ ...needs, sourceKept })}>
            callers seen as they are
          </Tick>
          <Tick isOn={wish.exportsServices} onTick={(exportsServices) => setWish({ ...wish, exportsServices })}>
            export all their services
          </Tick>
        </div>
        {(gateways === undefined || planned === undefined || each === undefined) && (
          <p role="alert" className="text-error mt-1">
            {gateways === undefined
              ? `“${wish.gateways}” is out of range: enter 1 to 16 gateways.`
              : `Traffic is a whole number of Mbit/s, up to 1,000,000${each === undefined ? ', at least 1 for a gateway' : ''}.`}
          </p>
        )}
      </Part>
      {chosen.length < 2 ? (
        <Empty>
          Choose two clusters or more: tunnels, relays and a flat network are proposed, tried and drilled for them.
        </Empty>
      ) : chosen.length > MOST_COMPARED ? (
        <Empty>
          {chosen.length} clusters are chosen; {MOST_COMPARED} are the most that are compared at once. Compare some of
          each kind, then add the others as members.
        </Empty>
      ) : (
        <Compared
          asked={asked}
          needs={{
            plannedMbps: planned ?? 0,
            gatewayMbps: each ?? 1000,
            anyProtocol: needs.anyProtocol,
            sourceKept: needs.sourceKept,
          }}
          way={way}
        />
      )}
    </>
  );
}

function whole(text: string, least: number, most: number): number | undefined {
  const value = Number(text.replace(/,/g, ''));
  return text.trim() !== '' && Number.isInteger(value) && value >= least && value <= most ? value : undefined;
}

/** A name that no connection has yet. */
function freeName(connections: readonly { readonly name: string }[], clusters: readonly string[]): string {
  const base =
    clusters.length === 0
      ? 'connection'
      : clusters.length > 2
        ? `${clusters[0] ?? ''} and ${clusters.length - 1} others`
        : clusters.join(' and ');
  const taken = new Set(connections.map(({ name }) => name.toLowerCase()));
  let name = base.slice(0, 70);
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${base.slice(0, 70)} ${n}`;
  return name;
}

function Compared({
  asked,
  needs,
  way,
}: {
  readonly asked: Omit<JoinWish, 'way'>;
  readonly needs: JoinNeeds;
  readonly way: JoinWay | undefined;
}) {
  const [, set] = useSearchState();
  const sheet = useSlice('joinComparison', useDeferredValue(asked), useDeferredValue(needs));
  if (sheet === undefined) return <p className="quiet p-4">Proposing, trying and drilling each kind...</p>;
  return (
    <>
      {way !== undefined && <Proposed wish={{ ...asked, way }} />}
      <Part title="Side by side">
        <ComparedTable
          label="Kinds of connection"
          options={sheet.ways.map(({ way: id, excluded, score }) => ({
            id,
            title: titles[id],
            aside: id === sheet.winner ? 'best that can be' : '',
            excluded,
            score,
            action: { label: `Propose ${id}`, isDisabled: id === way, onAct: () => set({ way: id }) },
          }))}
          rows={sheet.rows}
        />
      </Part>
      <Part title="What weighs">
        <Weights criteria={joinCriteria} sensitivities={sheet.sensitivities} winner={sheet.winner} />
      </Part>
    </>
  );
}

function Proposed({ wish }: { readonly wish: JoinWish }) {
  const commit = useCommit();
  const [, set] = useSearchState();
  const { slice: proposal, isFresh } = useAnswer('joinProposal', wish);
  if (proposal === undefined) return <Computing />;
  const operations = proposal.groups.flatMap((group) => group.operations);
  const apply = async () => {
    const problem = await commit(`Propose the connection ${wish.name}`, operations);
    if (problem !== '') {
      toast.error(problem);
      return;
    }
    toast.success('Added as planned. Clear Planned when it is in service.');
    set({ way: '', show: 'connections' });
  };
  return (
    <Part
      title={`${titles[wish.way]}, as one difference`}
      aside={
        <span className="flex gap-2">
          <button type="button" className="btn btn-sm btn-ghost" onClick={() => set({ way: '' })}>
            Discard
          </button>
          <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} />
        </span>
      }
    >
      {proposal.problems.length > 0 && (
        <ul className="text-error mb-2" aria-label="What stands in the way">
          {proposal.problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      {proposal.groups.map(({ title, operations: rows }) => (
        <details key={title} className="mb-1" open={rows.length <= 8}>
          <summary className="cursor-pointer font-semibold">
            {title}: {rows.length}
          </summary>
          <OperationList operations={rows} whole={operations} />
        </details>
      ))}
      <TriedPart operations={operations} proposing="connections" />
      {proposal.openSteps.length > 0 && (
        <ul className="mt-2 list-disc pl-5" aria-label="Open steps">
          {proposal.openSteps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ul>
      )}
    </Part>
  );
}
