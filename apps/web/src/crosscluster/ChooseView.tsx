import type { ConnectionNeeds, ConnectionRequest } from '@wide-lattice/core/crosscluster';
import { connectionCriteria } from '@wide-lattice/core/crosscluster';
import type { ConnectionMethod } from '@wide-lattice/core/plan';
import { useDeferredValue } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer, useSlice } from '../plan/useSlice';
import { AddByName } from '../shared/AddByName';
import { ComparedTable } from '../shared/ComparedTable';
import { Computing, Empty, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { useSearchState } from '../shared/useSearchState';
import { Weights } from '../shared/Weights';
import { ApplyButton } from '../shared/ApplyButton';
import { TriedPart } from '../shared/TriedPart';
import { ChosenClusters } from './ChosenClusters';
import { useConnectionRequest } from './connectionRequest';
import { WishFields } from './WishFields';

const titles: Readonly<Record<ConnectionMethod, string>> = { tunnels: 'Tunnels', relays: 'Relays', flat: 'Flat' };

/** Clusters that one comparison tries: every way between them is followed, and each kind drilled. */
const MAX_COMPARED = 60;

/** The three kinds side by side for the chosen clusters, with what each brings, and the proposal of one of them. */
export function ChooseView() {
  const { plan } = usePlan();
  const [search] = useSearchState();
  const { chosen, texts, change, asked, needs, faults, add, leaveOut } = useConnectionRequest();
  const method = (['tunnels', 'relays', 'flat'] as const).find((one) => one === search.get('method'));
  return (
    <>
      <Part title="Clusters to connect">
        <AddByName
          label="Add a cluster"
          what="cluster"
          options={plan.clusters.filter((cluster) => !chosen.includes(cluster))}
          onAdd={add}
        />
        {chosen.length > 0 && (
          <ChosenClusters
            clusters={chosen}
            sides={texts.sides}
            hub={texts.isHub ? (chosen.find(({ name }) => name === texts.hub) ?? chosen[0])?.name : undefined}
            onSide={(name, side) => change(({ sides }) => ({ sides: { ...sides, [name]: side } }))}
            onHub={(hub) => change({ hub })}
            onLeaveOut={leaveOut}
          />
        )}
        <WishFields texts={texts} change={change} />
        {faults.length > 0 && (
          <ul role="alert" className="text-error mt-1">
            {faults.map((fault) => (
              <li key={fault}>{fault}</li>
            ))}
          </ul>
        )}
      </Part>
      {chosen.length < 2 ? (
        <Empty>
          Choose two clusters or more: tunnels, relays and a flat network are proposed, tried and drilled for them.
        </Empty>
      ) : chosen.length > MAX_COMPARED ? (
        <Empty>
          {chosen.length} clusters are chosen; {MAX_COMPARED} are the most that are compared at once. Compare some of
          each kind, then add the others as members.
        </Empty>
      ) : (
        <Compared asked={asked} needs={needs} method={method} />
      )}
    </>
  );
}

function Compared({
  asked,
  needs,
  method,
}: {
  readonly asked: Omit<ConnectionRequest, 'method'>;
  readonly needs: ConnectionNeeds;
  readonly method: ConnectionMethod | undefined;
}) {
  const [, set] = useSearchState();
  const sheet = useSlice('connectionComparison', useDeferredValue(asked), useDeferredValue(needs));
  if (sheet === undefined) return <p className="quiet p-4">Proposing, trying and drilling each method...</p>;
  return (
    <>
      {method !== undefined && <Proposed wish={{ ...asked, method }} />}
      <Part title="Side by side">
        <ComparedTable
          label="Methods of connection"
          options={sheet.ways.map(({ method: id, excluded, score }) => ({
            id,
            title: titles[id],
            aside: id === sheet.winner ? 'best achievable' : '',
            excluded,
            score,
            action: { label: `Propose ${id}`, isDisabled: id === method, onAct: () => set({ method: id }) },
          }))}
          rows={sheet.rows}
        />
      </Part>
      <Part title="What weighs">
        <Weights criteria={connectionCriteria} sensitivities={sheet.sensitivities} winner={sheet.winner} />
      </Part>
    </>
  );
}

function Proposed({ wish }: { readonly wish: ConnectionRequest }) {
  const commit = useCommit();
  const [, set] = useSearchState();
  const { slice: proposal, isFresh } = useAnswer('connectionProposal', wish);
  if (proposal === undefined) return <Computing />;
  const operations = proposal.groups.flatMap((group) => group.operations);
  const apply = async () => {
    const problem = await commit(`Propose the connection ${wish.name}`, operations);
    if (problem !== '') {
      toast.error(problem);
      return;
    }
    toast.success('Added as planned. Clear Planned when it is in service.');
    set({ method: '', show: 'connections' });
  };
  return (
    <Part
      title={`${titles[wish.method]}, as one difference`}
      aside={
        <span className="flex gap-2">
          <button type="button" className="btn btn-sm btn-ghost" onClick={() => set({ method: '' })}>
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
