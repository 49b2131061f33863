import { formatNumber } from '@wide-lattice/core/working';
import { sizePlans, workloads } from '@wide-lattice/core/allocation';
import type { QuickStartRequest, Workload } from '@wide-lattice/core/allocation';
import type { Cluster } from '@wide-lattice/core/plan';
import { starters } from '@wide-lattice/core/starter';
import type { StarterName } from '@wide-lattice/core/starter';
import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { Choice } from '../shared/Choice';
import { DialogFoot } from '../shared/DialogFoot';
import { SeverityMark } from '../shared/Marks';
import { Modal } from '../shared/Modal';
import { core } from '../worker/coreClient';
import type { SliceAnswer } from '../worker/slices';
import { TableHead } from '../shared/TableHead';

const NEW = 'new ';

const sizes = ['small', 'medium', 'large', 'own'] as const;
type Size = (typeof sizes)[number];

const bounds = {
  zones: { label: 'Zones', max: 9, min: 1 },
  controlNodes: { label: 'Control nodes', max: 9, min: 0 },
  workersNow: { label: 'Workers now', max: 10_000, min: 1 },
  workersHorizon: { label: 'Workers at the horizon', max: 10_000, min: 1 },
  services: { label: 'Services', max: 100_000, min: 1 },
} as const;
type Count = keyof typeof bounds;

interface QuickStartDialogProps {
  readonly onClose: () => void;
  readonly onMade: (clusterId: string) => void;
}

/** From a site, a size and a purpose to a complete network, shown as a difference; everything can be edited afterwards. */
export function QuickStartDialog({ onClose, onMade }: QuickStartDialogProps) {
  const { plan, session, revision } = usePlan();
  const commit = useCommit();
  const nameId = useId();
  const [name, setName] = useState('');
  // Without a site, one is made under a generic profile.
  const [siteId, setSite] = useState<string>(plan.sites[0]?.id ?? `${NEW}zonal`);
  const [siteName, setSiteName] = useState('Main site');
  const [size, setSize] = useState<Size>('medium');
  const [own, setOwn] = useState<Record<Count, string>>(asTexts(sizePlans.medium));
  const [workload, setWorkload] = useState<Workload>('public');
  const [podMode, setPodMode] = useState<Cluster['podMode']>('overlay');
  const [refused, setRefused] = useState('');
  const wrong = size === 'own' ? problemsOf(own) : {};
  const request: QuickStartRequest | undefined =
    name.trim() === '' || Object.keys(wrong).length > 0
      ? undefined
      : {
          name: name.trim(),
          ...placeOf(siteId, siteName),
          size: size === 'own' ? asCounts(own) : sizePlans[size],
          workload,
          podMode,
          podsPerNode: 110,
        };
  const { data: start } = useQuery({
    queryKey: [session.planId, revision, 'quickStart', request],
    queryFn: async () => (request === undefined ? null : core.ask('quickStart', request)),
    gcTime: 0,
  });
  const make = async () => {
    if (start === undefined || start === null || !start.ok) return;
    const problem = await commit(`Quick start ${name.trim()}`, start.operations);
    setRefused(problem);
    if (problem !== '') return;
    onMade(start.clusterId);
    onClose();
  };
  return (
    <Modal
      title="Quick start"
      description="A site, a size and a purpose give a whole network. Nothing is saved until you apply it."
      onClose={onClose}
      isWide
    >
      <div className="grid grid-cols-3 gap-x-4 gap-y-2">
        <div>
          <label htmlFor={nameId} className="block">
            Name
          </label>
          <input
            id={nameId}
            className="input input-sm w-full"
            autoComplete="off"
            value={name}
            placeholder="such as refunds"
            onChange={(event) => setName(event.target.value)}
          />
        </div>
        <Choice
          label="Site"
          value={siteId}
          onChoose={setSite}
          options={[
            ...plan.sites
              .map(({ id, name: label }) => ({ value: id, label }))
              .sort((a, b) => (a.label < b.label ? -1 : 1)),
            ...Object.entries(starters).map(([key, { label }]) => ({ value: NEW + key, label: `New site: ${label}` })),
          ]}
        />
        <Choice
          label="Pod network"
          value={podMode}
          // One of the options just below.
          onChoose={(value) => setPodMode(value as Cluster['podMode'])}
          options={['overlay', 'routed', 'native'].map((value) => ({ value, label: value }))}
        />
      </div>
      {siteId.startsWith(NEW) && (
        <label className="mt-2 block">
          <span className="block">Name of the new site</span>
          <input
            className="input input-sm w-64"
            autoComplete="off"
            value={siteName}
            maxLength={80}
            onChange={(event) => setSiteName(event.target.value)}
          />
        </label>
      )}
      <div className="mt-2 grid grid-cols-2 gap-4">
        <Choice
          label="Size"
          value={size}
          onChoose={(value) => setSize(value as Size)}
          options={sizes.map((value) => ({ value, label: formatShortSize(value) }))}
        />
        <Choice
          label="Purpose"
          value={workload}
          onChoose={(value) => setWorkload(value as Workload)}
          options={Object.entries(workloads).map(([value, label]) => ({ value, label }))}
        />
      </div>
      <div className="mt-2 grid grid-cols-5 gap-3">
        {size === 'own' &&
          (Object.keys(bounds) as Count[]).map((count) => (
            <OwnCount
              key={count}
              count={count}
              text={own[count]}
              problem={wrong[count]}
              onText={(text) => setOwn({ ...own, [count]: text })}
            />
          ))}
      </div>
      <div className="mt-3 min-h-0" aria-live="polite">
        {request === undefined && <p className="quiet">Enter a name to see what would be created.</p>}
        {start !== undefined && start !== null && !start.ok && (
          <p className="text-error">
            {start.reason} {start.fix}
          </p>
        )}
        {start !== undefined && start !== null && start.ok && <Made start={start} />}
      </div>
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={start === undefined || start === null || !start.ok}
          onClick={() => void make()}
        >
          Apply
        </button>
      </DialogFoot>
    </Modal>
  );
}

/** Where it is to stand: a site of the plan, or a new one of a generic kind. */
function placeOf(siteId: string, siteName: string): Pick<QuickStartRequest, 'siteId' | 'starter' | 'siteName'> {
  if (!siteId.startsWith(NEW)) return { siteId };
  // One of the starters' names follows.
  return { siteId: '', starter: siteId.slice(NEW.length) as StarterName, siteName };
}

type Shown = Extract<SliceAnswer<'quickStart'>, { ok: true }>;

function Made({ start }: { readonly start: Shown }) {
  return (
    <>
      <table className="w-full" aria-label="What would be made">
        <TableHead labels={['What', 'Name', 'Range', 'Internet egress', 'Route table']} />
        <tbody>
          {start.rows.map((row) => (
            <tr key={`${row.what} ${row.name} ${row.range}`} className="rule-b">
              <td className="py-0.5">{row.what}</td>
              <td>{row.name}</td>
              <td className="font-mono">{row.range}</td>
              <td>{row.internetEgress}</td>
              <td>{row.routeTable}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <ul className="mt-2">
        {start.notes.map((note) => (
          <li key={note} className="quiet">
            {note}
          </li>
        ))}
        {start.gained.map(({ key, severity, title }) => (
          <li key={key} className="flex gap-2">
            <SeverityMark severity={severity} /> {title}
          </li>
        ))}
        {start.gained.length === 0 && <li>It brings no new error or warning.</li>}
      </ul>
    </>
  );
}

interface OwnCountProps {
  readonly count: Count;
  readonly text: string;
  readonly problem: string | undefined;
  readonly onText: (text: string) => void;
}

function OwnCount({ count, text, problem, onText }: OwnCountProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block">
        {bounds[count].label}
      </label>
      <input
        id={id}
        className={`input input-sm w-full ${problem === undefined ? '' : 'input-error'}`}
        inputMode="numeric"
        aria-invalid={problem !== undefined}
        value={text}
        onChange={(event) => onText(event.target.value)}
      />
      {problem !== undefined && <p className="text-error text-xs">{problem}</p>}
    </div>
  );
}

function formatShortSize(size: Size): string {
  if (size === 'own') return 'own: say the counts';
  const { zones, controlNodes, workersNow, workersHorizon } = sizePlans[size];
  return `${size}: ${controlNodes} control, ${workersNow} to ${workersHorizon} workers, ${zones} ${zones === 1 ? 'zone' : 'zones'}`;
}

function asTexts(plan: Readonly<Record<Count, number>>): Record<Count, string> {
  return Object.fromEntries(Object.entries(plan).map(([count, value]) => [count, String(value)])) as Record<
    Count,
    string
  >;
}

function asCounts(texts: Readonly<Record<Count, string>>): Record<Count, number> {
  return Object.fromEntries(Object.entries(texts).map(([count, text]) => [count, Number(text)])) as Record<
    Count,
    number
  >;
}

function problemsOf(texts: Readonly<Record<Count, string>>): Partial<Record<Count, string>> {
  const wrong = (Object.keys(bounds) as Count[]).flatMap((count) => {
    const value = Number(texts[count]);
    const { min, max, label } = bounds[count];
    const isGood = texts[count].trim() !== '' && Number.isInteger(value) && value >= min && value <= max;
    return isGood
      ? []
      : [[count, `${label}: write a whole number from ${formatNumber(min)} to ${formatNumber(max)}.`] as const];
  });
  return Object.fromEntries(wrong);
}
