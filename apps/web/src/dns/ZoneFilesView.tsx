import { formatNumber } from '@wide-lattice/core/working';
import { setOperation } from '@wide-lattice/core/plan';
import { apexOf } from '@wide-lattice/core/zones';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Empty, Part } from '../shared/Halves';
import { LineProblems } from '../shared/LineProblems';
import { OperationList } from '../shared/OperationList';
import { saveFile } from '../shared/saveFile';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import type { ShownZoneImport } from '../worker/slices/dnsSlices';
import { ApplyButton } from '../shared/ApplyButton';
import { Removals } from '../shared/Removals';

// The editor is only loaded where zone files are.
const TextEditor = lazy(async () => ({ default: (await import('../shared/TextEditor')).TextEditor }));

const none: ShownZoneImport['problems'] = [];

/** Zone files (RFC 1035): written for a zone, or for all as one zip, and read as a difference, with problems at their lines. */
export function ZoneFilesView() {
  const { plan } = usePlan();
  const commit = useCommit();
  const [search, set] = useSearchState();
  const chosen = plan.zones.find(({ id }) => id === search.get('zone')) ?? plan.zones[0];
  const [start, setStart] = useState('');
  const [text, setText] = useState('');
  const readText = useDeferredValue(text);
  const { slice: read, isFresh } = useAnswer('zoneImport', chosen?.id ?? '', readText);
  if (chosen === undefined) return <Empty>No zones yet. Add one; then its zone file is read and written here.</Empty>;
  const load = (loaded: string) => {
    setStart(loaded);
    setText(loaded);
  };
  const open = async (files: FileList | null) => {
    const opened = (await files?.[0]?.text()) ?? '';
    // A file that names its zone is read into that one.
    const apex = apexOf(opened);
    if (apex.ok && apex.value !== chosen.apex) {
      const named = plan.zones.find((zone) => zone.apex === apex.value);
      if (named !== undefined) set({ zone: named.id });
    }
    load(opened);
  };
  const save = async (zones: readonly { readonly id: string; readonly name: string }[], only?: string) => {
    const all = await Promise.all(
      zones.map(async (zone) => ({ zone, made: await core.ask('zoneHandedOut', zone.id) })),
    );
    const moved = all.filter(({ made }) => made !== undefined && Object.keys(made.fields).length > 0);
    if (moved.length > 0) {
      const names = moved.map(({ zone }) => zone.name).join(', ');
      const problem = await commit(
        `Raise the serial of ${names}`,
        moved.map(({ zone, made }) => setOperation('zones', zone.id, made?.fields ?? {})),
      );
      if (problem !== '') {
        toast.error(`Not exported: the serial could not be raised. ${problem}`);
        return;
      }
      toast.success(`The serial of ${names} was raised, since the zone has changed.`);
    }
    const texts = all.map(({ zone, made }) => [zone.id, `; ${zone.name}\n${made?.text ?? ''}`] as const);
    if (only !== undefined) {
      saveFile(new Blob([texts[0]?.[1] ?? ''], { type: 'text/dns' }), `${only}.zone`);
      return;
    }
    // Zones of one origin cannot stand in one file.
    const zip = await core.ask('zonesZipped', Object.fromEntries(texts));
    saveFile(new Blob([zip as Uint8Array<ArrayBuffer>], { type: 'application/zip' }), 'zones.zip');
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="rule-b flex flex-wrap items-end gap-2 px-4 py-2">
        <Choice
          label="Zone"
          options={plan.zones.map(({ id, name }) => ({ value: id, label: name }))}
          value={chosen.id}
          onChoose={(zone) => {
            set({ zone });
            load('');
          }}
        />
        <label className="btn btn-sm btn-outline">
          Open a file
          <input type="file" className="sr-only" onChange={(event) => void open(event.target.files)} />
        </label>
        <button
          type="button"
          className="btn btn-sm btn-outline"
          onClick={() => void core.ask('zoneText', chosen.id).then(load)}
        >
          Show the zone file
        </button>
        <button
          type="button"
          className="btn btn-sm btn-outline"
          title={`The serial is ${chosen.serial}. Where the zone has changed since its last file it is raised, so that secondary servers fetch it.`}
          onClick={() => void save([chosen], chosen.name)}
        >
          Export
        </button>
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void save(plan.zones)}>
          Export all
        </button>
      </div>
      <div className="rule-b h-72 shrink-0">
        <Suspense fallback={null}>
          <TextEditor label="Zone file" text={start} problems={read?.problems ?? none} onChange={setText} />
        </Suspense>
      </div>
      {read === undefined ? (
        <p className="quiet px-4 py-3">
          Paste the zone file of {chosen.apex}, or open it: what it would add, change and remove is shown before
          anything is applied.
        </p>
      ) : (
        <Outcome key={chosen.id} read={read} isFresh={isFresh && readText === text} zoneName={chosen.name} />
      )}
    </div>
  );
}

interface OutcomeProps {
  readonly read: ShownZoneImport;
  /** Whether it is of the text in the editor. */
  readonly isFresh: boolean;
  readonly zoneName: string;
}

function Outcome({ read, isFresh, zoneName }: OutcomeProps) {
  const { problems, faults, added, changed, removed, removals, remembers, same } = read;
  const commit = useCommit();
  const [isRemoving, setRemoving] = useState(false);
  const operations = isRemoving ? [...read.operations, ...removals] : read.operations;
  const isOther = problems.some(({ code }) => code === 'zone.other');
  const apply = async () => {
    const problem = await commit(`Import zone file into ${zoneName}`, [...operations, ...remembers]);
    if (problem === '') toast.success('Imported as one change.');
    else toast.error(problem);
  };
  return (
    <Part
      title={
        !isFresh
          ? 'Reading...'
          : isOther
            ? 'A file for another zone'
            : `${added} new, ${changed} changed, ${removed} gone, ${same} as they are`
      }
      aside={
        isFresh && read.operations.length + removals.length === 0 ? (
          <span className="quiet">{isOther ? 'nothing of it is read' : 'the zone holds it as it is'}</span>
        ) : (
          <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} />
        )
      }
    >
      <LineProblems problems={problems} all={faults} />
      {isFresh && !isOther && faults > 0 && (
        <p className="quiet mb-2">While a line cannot be read, no record of the zone counts as gone.</p>
      )}
      <Removals of={removals} isOn={isRemoving} onTick={setRemoving}>
        The zone has {formatNumber(removed)} {removed === 1 ? 'record' : 'records'} that the file does not have.
      </Removals>
      <OperationList operations={operations} />
    </Part>
  );
}
