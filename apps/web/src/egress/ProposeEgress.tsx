import { formatNumber } from '@wide-lattice/core/working';
import type { EgressProposal, HubRequest } from '@wide-lattice/core/egress';
import { byId } from '@wide-lattice/core/plan';
import type { Network, Plan } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Computing, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { Tick } from '../shared/Tick';
import { ApplyButton } from '../shared/ApplyButton';
import { TriedPart } from '../shared/TriedPart';
import { toggled } from '../shared/toggled';

const none: readonly string[] = [];

/** From intent to rows: what the decisions of networks and clusters ask for, as one difference grouped by intent; and a hub with its spokes in one action. */
export function ProposeEgress() {
  const { plan } = usePlan();
  const [filtered, setFiltered] = useState<readonly string[]>(none);
  const { slice: proposal, isFresh } = useAnswer('egressProposal', filtered);
  const bare = plan.clusters.filter(({ id }) => !plan.filters.some(({ clusterIds }) => clusterIds.includes(id)));
  return (
    <>
      <Part title="What the decisions ask for">
        <p className="quiet mb-2">
          From the internet egress of networks, the API endpoint, pod network and bastion of clusters, and the needs.
          Rows that were edited by hand are kept.
        </p>
        {bare.length > 0 && (
          <Tick
            isOn={filtered.length > 0}
            onTick={(isOn) => setFiltered(isOn ? bare.map(({ id }) => id) : none)}
            className="mb-2"
          >
            Also propose a filter for each of the {formatNumber(bare.length)} clusters whose nodes have none
          </Tick>
        )}
        {proposal !== undefined && (
          <Groups
            key={proposal.groups.map(({ intent }) => intent).join()}
            proposal={proposal}
            isFresh={isFresh}
            label="Apply what the decisions ask for"
          />
        )}
      </Part>
      <HubPart />
    </>
  );
}

interface GroupsProps {
  readonly proposal: EgressProposal;
  readonly isFresh: boolean;
  readonly label: string;
  readonly onApplied?: () => void;
}

function Groups({ proposal, isFresh, label, onApplied }: GroupsProps) {
  const { groups, notes } = proposal;
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const commit = useCommit();
  const all = groups.flatMap((group) => group.operations);
  const chosen = groups.filter(({ intent }) => !left.has(intent));
  const operations = chosen.flatMap((group) => group.operations);
  const toggle = (intent: string) => setLeft(toggled(left, intent));
  const apply = async () => {
    const problem = await commit(label, operations);
    if (problem !== '') {
      toast.error(problem);
      return;
    }
    toast.success('Applied as one change.');
    onApplied?.();
  };
  return (
    <>
      {groups.length === 0 && <p>Every row that the decisions ask for is there.</p>}
      <ul>
        {groups.map(({ intent, operations: own }) => (
          <li key={intent} className="rule-b py-1.5">
            <Tick isOn={!left.has(intent)} onTick={() => toggle(intent)}>
              {intent[0]?.toUpperCase()}
              {intent.slice(1)}
            </Tick>
            <details className="pl-6">
              <summary className="quiet cursor-pointer">
                {own.length} {own.length === 1 ? 'row' : 'rows'}
              </summary>
              <OperationList operations={own} whole={all} />
            </details>
          </li>
        ))}
      </ul>
      {notes.length > 0 && (
        <ul className="quiet mt-2 list-disc pl-5">
          {notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      )}
      <TriedPart operations={operations} proposing="egress" />
      {groups.length > 0 && (
        <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} className="mt-2" />
      )}
    </>
  );
}

/** "hub", or the first number behind it that no network has. */
function freeName({ networks }: Plan): string {
  const taken = new Set(networks.map(({ name }) => name.toLowerCase()));
  for (let at = 1; ; at++) {
    const name = at === 1 ? 'hub' : `hub-${at}`;
    if (!taken.has(name)) return name;
  }
}

/** A hub network with firewall, bastion and shared subnets, spokes attached, defaults and rules: one action. */
function HubPart() {
  const { plan } = usePlan();
  const [hubId, setHub] = useState('');
  const [typed, setName] = useState<string>();
  const name = typed ?? freeName(plan);
  const [siteId, setSite] = useState(plan.sites[0]?.id ?? '');
  const [spokes, setSpokes] = useState<readonly string[]>([]);
  const isTaken = plan.networks.some((network) => network.name.toLowerCase() === name.trim().toLowerCase());
  const others = plan.networks.filter(({ id }) => id !== hubId);
  const chosen = spokes.filter((id) => id !== hubId);
  const begin = () => {
    setName(undefined);
    setSpokes([]);
  };
  const isReady = (hubId !== '' || (name.trim() !== '' && !isTaken)) && chosen.length > 0 && siteId !== '';
  return (
    <Part title="Hub and spoke">
      <Choice
        label="Hub"
        options={[
          { value: '', label: 'a new network' },
          ...plan.networks.map((network) => ({ value: network.id, label: hubLabel(plan, network.id) })),
        ]}
        value={hubId}
        onChoose={setHub}
      />
      <div className={`mt-2 grid gap-3 ${hubId === '' ? 'grid-cols-2' : ''}`}>
        <HubName isShown={hubId === ''} name={name} isTaken={isTaken} onName={setName} />
        <Choice
          label="Site"
          options={plan.sites.map((site) => ({ value: site.id, label: site.name }))}
          value={siteId}
          onChoose={setSite}
        />
      </div>
      <Spokes others={others} chosen={chosen} onChoose={setSpokes} />
      {isReady ? (
        <HubGroups
          request={{ networkId: hubId, name: hubId === '' ? name.trim() : '', siteId, spokeIds: chosen }}
          onApplied={begin}
        />
      ) : (
        <p className="quiet mt-2">
          {hubId === '' ? 'Name the hub and choose its spokes' : 'Choose its spokes'}; what is made is shown before it
          is applied.
        </p>
      )}
    </Part>
  );
}

interface HubNameProps {
  readonly isShown: boolean;
  readonly name: string;
  readonly isTaken: boolean;
  readonly onName: (name: string) => void;
}

function HubName({ isShown, name, isTaken, onName }: HubNameProps) {
  return (
    <div className={isShown ? '' : 'hidden'}>
      <label htmlFor="hub-name" className="block">
        Name of the hub
      </label>
      <input
        id="hub-name"
        className="input input-sm w-full"
        maxLength={60}
        value={name}
        onChange={(event) => onName(event.target.value)}
      />
      {isTaken && <p className="text-error">A network is called that already. Choose another name.</p>}
    </div>
  );
}

interface SpokesProps {
  readonly others: readonly Network[];
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
}

function Spokes({ others, chosen, onChoose }: SpokesProps) {
  return (
    <fieldset className="mt-2">
      <legend className="flex w-full items-center gap-2">
        Spokes
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={chosen.length === others.length}
          onClick={() => onChoose(others.map(({ id }) => id))}
        >
          Choose all
        </button>
      </legend>
      <div className="grid max-h-32 grid-cols-3 gap-x-3 overflow-auto" tabIndex={0} role="group" aria-label="Spokes">
        {others.map((network) => (
          <Tick
            key={network.id}
            isOn={chosen.includes(network.id)}
            onTick={(isOn) => onChoose(isOn ? [...chosen, network.id] : chosen.filter((id) => id !== network.id))}
          >
            {network.name}
          </Tick>
        ))}
      </div>
    </fieldset>
  );
}

/** A network as a hub: with the firewall that it has. */
function hubLabel({ networks, subnets, firewalls }: Plan, id: string): string {
  const own = firewalls.find(({ subnetId }) => byId(subnets, subnetId)?.networkId === id);
  return `${byId(networks, id)?.name ?? ''}${own === undefined ? ', a firewall is added' : `, firewall ${own.name}`}`;
}

function HubGroups({ request, onApplied }: { readonly request: HubRequest; readonly onApplied: () => void }) {
  const { plan } = usePlan();
  const { slice: proposal, isFresh } = useAnswer('hubProposal', request);
  if (proposal === undefined) return <Computing />;
  return (
    <div className="mt-2">
      <Groups
        key={proposal.groups.map(({ intent }) => intent).join()}
        proposal={proposal}
        isFresh={isFresh}
        label={`Hub ${byId(plan.networks, request.networkId)?.name ?? request.name} with its spokes`}
        onApplied={onApplied}
      />
    </div>
  );
}
