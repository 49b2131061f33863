import { formatCount } from '@wide-lattice/core/working';
import { useQuery } from '@tanstack/react-query';
import type { ProposalRequest, RouteChange, SizeFor } from '@wide-lattice/core/allocation';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';
import { TriedPart } from '../shared/TriedPart';
import { More } from '../shared/More';
import { PurposeTag } from '../shared/Marks';
import { core } from '../worker/coreClient';
import { TableHead } from '../shared/TableHead';
import { Tick } from '../shared/Tick';

const SHOWN = 500;

const sizes: readonly { readonly value: SizeFor; readonly label: string }[] = [
  { value: 'horizon', label: 'Subnets sized for the horizon at once' },
  { value: 'now', label: 'Subnets sized for today, with room to grow beside' },
];

/** How many prefixes each site advertises before and after: the fewer, the smaller everybody's route tables. */
function Routes({ routes }: { readonly routes: readonly RouteChange[] }) {
  const sum = (of: 'before' | 'after') => routes.reduce((total, route) => total + route[of], 0);
  return (
    <details className="mt-2">
      <summary className="cursor-pointer">
        Advertised routes of the sites it touches: <strong>{sum('before')}</strong> before,{' '}
        <strong>{sum('after')}</strong> after
      </summary>
      <table className="mt-1 w-full" aria-label="Advertised routes">
        <tbody>
          {routes.map(({ siteName, purpose, before, after }) => (
            <tr key={`${siteName} ${purpose}`} className="rule-b">
              <th scope="row" className="text-left font-normal">
                {siteName}
              </th>
              <td>
                <span className="inline-flex items-center gap-1.5">
                  <PurposeTag purpose={purpose} /> {purpose}
                </span>
              </td>
              <td className="text-right">
                {before} before, {after} after
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

/** A proposal as a difference: what would be added or moved, what found no place and why. Applied as one change. */
export function ProposalDialog({
  request: asked,
  onClose,
}: {
  readonly request: ProposalRequest;
  readonly onClose: () => void;
}) {
  const { session, revision } = usePlan();
  const commit = useCommit();
  const [refused, setRefused] = useState('');
  const [sizeFor, setSizeFor] = useState<SizeFor>('horizon');
  const isForMissing = asked.move === undefined && asked.grow === undefined;
  const request: ProposalRequest = isForMissing ? { ...asked, sizeFor } : asked;
  const verb = asked.move !== undefined ? 'Move' : asked.grow !== undefined ? 'Grow' : 'Allocate';
  const { data: proposal } = useQuery({
    queryKey: [session.planId, revision, 'propose', request],
    queryFn: () => core.ask('propose', request),
    gcTime: 0,
    staleTime: Infinity,
  });
  const apply = async () => {
    if (proposal === undefined) return;
    const clusters = new Set(proposal.ranges.map(({ clusterName }) => clusterName));
    const where = clusters.size === 1 ? [...clusters][0] : `${clusters.size} clusters`;
    const problem = await commit(
      `${verb} ${formatCount(proposal.ranges.length, 'range')} for ${where}`,
      proposal.operations,
    );
    setRefused(problem);
    if (problem === '') onClose();
  };
  return (
    <Modal
      title="Proposed ranges"
      description="Nothing is saved until you apply it; what is allocated already stays where it is."
      onClose={onClose}
      isWide
    >
      {isForMissing && (
        <fieldset className="mb-2 flex gap-5">
          <legend className="sr-only">Size of new subnets</legend>
          {sizes.map(({ value, label }) => (
            <Tick key={value} group="size" isOn={sizeFor === value} onTick={() => setSizeFor(value)}>
              {label}
            </Tick>
          ))}
        </fieldset>
      )}
      {proposal === undefined && <p className="quiet">Looking for places...</p>}
      {proposal !== undefined && proposal.ranges.length === 0 && proposal.refusals.length === 0 && (
        <p className="quiet">Every range that is needed is there.</p>
      )}
      {proposal !== undefined && proposal.ranges.length > 0 && (
        <table className="w-full" aria-label="Proposed ranges">
          <TableHead labels={['Cluster', 'Purpose', 'Now', 'Proposed', 'From']} />
          <tbody>
            {proposal.ranges.slice(0, SHOWN).map((range) => (
              <tr key={`${range.clusterId} ${range.purpose} ${range.zone} ${range.family}`} className="rule-b">
                <th scope="row" className="py-1 text-left font-normal">
                  {range.clusterName}
                </th>
                <td>
                  <span className="inline-flex items-center gap-1.5">
                    <PurposeTag purpose={range.purpose} /> {range.purpose} {range.zone}
                  </span>
                </td>
                <td className="quiet font-mono">{range.before === '' ? 'none' : <del>{range.before}</del>}</td>
                <td className="font-mono font-semibold">{range.after}</td>
                <td>
                  {range.poolName}
                  {range.sharedWith.length > 0 && (
                    <span className="quiet"> shared with {range.sharedWith.join(', ')}</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <More all={proposal?.ranges.length ?? 0} shown={SHOWN} />
      {proposal !== undefined && proposal.routes.length > 0 && <Routes routes={proposal.routes} />}
      {proposal !== undefined && <TriedPart operations={proposal.operations} proposing="ranges" />}
      {proposal !== undefined && proposal.refusals.length > 0 && (
        <section aria-label="No place found" className="mt-4">
          <h3 className="heading text-error">No place for {proposal.refusals.length}</h3>
          <ul>
            {proposal.refusals.slice(0, SHOWN).map((refusal, i) => (
              <li key={i} className="rule-b py-1">
                {refusal.reason} <span className="quiet">{refusal.fix}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={proposal === undefined || proposal.ranges.length === 0}
          onClick={() => void apply()}
        >
          Apply {proposal?.ranges.length ?? 0} ranges
        </button>
      </DialogFoot>
    </Modal>
  );
}
