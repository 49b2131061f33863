import { formatNumber } from '@wide-lattice/core/working';
import type { Held, HoldCase } from '@wide-lattice/core/ingress';
import type { Plan } from '@wide-lattice/core/plan';
import { setOperation } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';

const cases: readonly { readonly id: HoldCase | 'change'; readonly label: string }[] = [
  { id: 'horizon', label: 'at the horizon' },
  { id: 'node gone', label: 'when a node leaves' },
  { id: 'change', label: 'since the page was opened' },
];

/** What a load balancer will hold as it follows from the plan, and what differs when something changes. */
export function HeldPart({ balancerId }: { readonly balancerId: string }) {
  const { plan } = usePlan();
  const [opened] = useState<Plan>(plan);
  const [chosen, setChosen] = useState<(typeof cases)[number]['id']>('horizon');
  const held = useSlice(
    'held',
    balancerId,
    chosen === 'change' ? 'now' : chosen,
    chosen === 'change' ? opened : undefined,
  );
  if (held === undefined) return null;
  const rest = held.now.filter(({ part }) => part !== 'member');
  const members = held.now.filter(({ part }) => part === 'member');
  return (
    <>
      <Part title="Derived configuration">
        <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3">
          {rest.map(({ part, text }, i) => (
            <div key={i} className="contents">
              <dt className="quiet">{part}</dt>
              <dd>{text}</dd>
            </div>
          ))}
        </dl>
        <FreeAddress balancerId={balancerId} />
        <details className="mt-1">
          <summary className="cursor-pointer">
            {formatNumber(members.length)} {members.length === 1 ? 'member' : 'members'} today
          </summary>
          <Lines held={members} sign="" />
        </details>
      </Part>
      <Part
        title="Differences"
        aside={
          <select
            aria-label="Compared with"
            className="select select-xs w-48"
            value={chosen}
            onChange={(event) => setChosen(event.target.value as typeof chosen)}
          >
            {cases.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        }
      >
        <Differing come={held.come} gone={held.gone} />
      </Part>
    </>
  );
}

type HeldLines = Parameters<typeof Lines>[0]['held'];

function Differing({ come, gone }: { readonly come: HeldLines; readonly gone: HeldLines }) {
  if (gone.length + come.length === 0) return <p className="quiet">Nothing differs.</p>;
  return (
    <>
      <p className="quiet">
        {come.length} added, {gone.length} removed
      </p>
      <Lines held={come} sign="+" />
      <Lines held={gone} sign="−" />
    </>
  );
}

/** Gives a load balancer that has no address yet one that is free in its subnet. */
function FreeAddress({ balancerId }: { readonly balancerId: string }) {
  const free = useSlice('freeAddress', balancerId);
  const commit = useCommit();
  if (free === undefined) return null;
  const take = async () => {
    const problem = await commit('Set the address of a load balancer', [
      setOperation('balancers', balancerId, { address: free }),
    ]);
    if (problem === '') toast.success(`The address is ${free}.`);
    else toast.error(problem);
  };
  return (
    <button type="button" className="btn btn-xs btn-outline mt-1" onClick={() => void take()}>
      Use {free}, which is free in its subnet
    </button>
  );
}

const MAX_LINES = 60;

function Lines({ held, sign }: { readonly held: readonly Held[]; readonly sign: string }) {
  return (
    <ul className="text-[13px]">
      {held.slice(0, MAX_LINES).map(({ part, text }, i) => (
        <li key={i} className="rule-b">
          {sign === '' ? '' : <strong className="mr-1">{sign}</strong>}
          {part === 'member' ? text : `${part} ${text}`}
        </li>
      ))}
      {held.length > MAX_LINES && <li className="quiet">and {held.length - MAX_LINES} more</li>}
    </ul>
  );
}
