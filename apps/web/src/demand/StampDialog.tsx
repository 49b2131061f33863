import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { MAX_STAMPED, readStampList } from '@wide-lattice/core/templates';
import type { Site, Template } from '@wide-lattice/core/plan';
import type { Stamp } from '@wide-lattice/core/templates';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useId, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { DialogFoot } from '../shared/DialogFoot';
import { PurposeTag } from '../shared/Marks';
import { Modal } from '../shared/Modal';
import { core } from '../worker/coreClient';
import { More } from '../shared/More';

const SHOWN = 60;

/** Makes a cluster of a template at each site of a pasted list, with its ranges, shown before anything is stored. */
export function StampDialog({ template, onClose }: { readonly template: Template; readonly onClose: () => void }) {
  const { plan, session, revision } = usePlan();
  const commit = useCommit();
  const [text, setText] = useState('');
  const [refused, setRefused] = useState('');
  const read = useDeferredValue(text);
  const rows = readStampList(read);
  const { data: stamp, isPlaceholderData } = useQuery({
    queryKey: [session.planId, revision, 'stamp', template.id, rows],
    queryFn: () => core.ask('stamp', template.id, rows),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const isStale = isPlaceholderData || read !== text;
  const without = plan.sites.filter(
    (site) => !plan.clusters.some((cluster) => cluster.siteId === site.id && cluster.templateId === template.id),
  );
  const make = async () => {
    if (stamp === undefined) return;
    const problem = await commit(`Stamp ${template.name} over ${stamp.clusters.length} sites`, stamp.operations);
    setRefused(problem);
    if (problem === '') onClose();
  };
  return (
    <Modal
      title={`Stamp ${template.name} over sites`}
      description="One cluster for each site of the list, each with its ranges. Nothing is saved until you apply it."
      onClose={onClose}
      isWide
    >
      <div className="grid min-h-0 grid-cols-[17rem_1fr] gap-5">
        <SiteList
          text={text}
          without={without}
          onType={(typed) => {
            setRefused('');
            setText(typed);
          }}
        />
        <div className="min-w-0" aria-live="polite">
          {stamp === undefined || rows.length === 0 ? (
            <p className="quiet">Enter sites to preview.</p>
          ) : (
            <Made stamp={stamp} />
          )}
        </div>
      </div>
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={isStale || stamp === undefined || stamp.clusters.length === 0 || rows.length === 0}
          onClick={() => void make()}
        >
          Make {rows.length === 0 ? 0 : (stamp?.clusters.length ?? 0)} clusters
        </button>
      </DialogFoot>
    </Modal>
  );
}

interface SiteListProps {
  readonly text: string;
  /** Sites that have no cluster of the template. */
  readonly without: readonly Site[];
  readonly onType: (text: string) => void;
}

function SiteList({ text, without, onType }: SiteListProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block font-medium">
        Sites, one per line
      </label>
      <textarea
        id={id}
        autoFocus
        className="textarea h-52 w-full font-mono"
        placeholder={'Ardle pier\nBrae pier, kiosk-brae-2\nCorran pier, kiosk-corran-2, 3, 6'}
        value={text}
        onChange={(event) => onType(event.target.value)}
      />
      <p className="quiet text-xs">
        After commas or tabs, a name for the cluster, its nodes now and at the horizon; without them the template says
        so. At most {formatNumber(MAX_STAMPED)} lines.
      </p>
      {without.length > 0 && (
        <button
          type="button"
          className="btn btn-xs btn-outline mt-2"
          onClick={() => onType(without.map(({ name }) => name).join('\n'))}
        >
          {without.length} sites that have none yet
        </button>
      )}
    </div>
  );
}

function Made({ stamp }: { readonly stamp: Stamp }) {
  const { clusters, problems, proposal } = stamp;
  return (
    <>
      {problems.length > 0 && (
        <section aria-label="Lines left out" className="mb-3">
          <h3 className="text-error font-semibold">Left out: {problems.length}</h3>
          <ul>
            {problems.slice(0, SHOWN).map(({ line, message, fix }) => (
              <li key={line}>
                Line {line}: {message} <span className="quiet">{fix}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <h3 className="font-semibold">
        {formatCount(clusters.length, 'cluster')}, {formatCount(proposal.ranges.length, 'range')}
      </h3>
      <table className="w-full" aria-label="Clusters that would be made">
        <tbody>
          {clusters.slice(0, SHOWN).map(({ id, name }) => (
            <tr key={id} className="rule-b align-top">
              <th scope="row" className="w-44 py-0.5 text-left font-normal">
                {name}
              </th>
              <td>
                {proposal.ranges
                  .filter(({ clusterId }) => clusterId === id)
                  .map(({ purpose, zone, after }) => (
                    <span key={`${purpose} ${zone} ${after}`} className="mr-3 inline-flex items-center gap-1">
                      <PurposeTag purpose={purpose} />
                      <span className="font-mono text-[0.92rem]">{after}</span>
                    </span>
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={clusters.length} shown={SHOWN} />
      {proposal.refusals.length > 0 && (
        <section aria-label="No place found" className="mt-3">
          <h3 className="text-error font-semibold">No place for {formatCount(proposal.refusals.length, 'range')}</h3>
          <ul>
            {proposal.refusals.slice(0, SHOWN).map((refusal, i) => (
              <li key={i}>
                {refusal.reason} <span className="quiet">{refusal.fix}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
