import { apexOf } from '@wide-lattice/core/zones';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Empty, Part } from '../shared/Halves';
import { LineProblems } from '../shared/LineProblems';
import { OperationList } from '../shared/OperationList';
import { saveFile } from '../shared/saveFile';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import type { ShownZoneImport } from '../worker/slices/dnsSlices';

// The editor is only loaded where zone files are.
const TextEditor = lazy(async () => ({ default: (await import('../shared/TextEditor')).TextEditor }));

const none: ShownZoneImport['problems'] = [];

/** Zone files (RFC 1035): written for a zone or for all, and read as a difference, with problems at their lines. */
export function ZoneFilesView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const chosen = plan.zones.find(({ id }) => id === search.get('zone')) ?? plan.zones[0];
  const [start, setStart] = useState('');
  const [text, setText] = useState('');
  const read = useSlice('zoneImport', chosen?.id ?? '', useDeferredValue(text));
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
      if (named === undefined)
        toast.error(`The file is for ${apex.value}, and the plan has no such zone. Add it first.`);
      else set({ zone: named.id });
    }
    load(opened);
  };
  const save = async (zones: readonly { readonly id: string; readonly name: string }[], name: string) => {
    const texts = await Promise.all(
      zones.map(async (zone) => `; ${zone.name}\n${await core.ask('zoneText', zone.id)}`),
    );
    saveFile(new Blob([texts.join('\n')], { type: 'text/dns' }), `${name}.zone`);
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
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void save([chosen], chosen.name)}>
          Export
        </button>
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void save(plan.zones, 'all-zones')}>
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
        <Outcome read={read} zoneName={chosen.name} />
      )}
    </div>
  );
}

function Outcome({
  read: { operations, problems, faults, added, changed, removed, same },
  zoneName,
}: {
  readonly read: ShownZoneImport;
  readonly zoneName: string;
}) {
  const commit = useCommit();
  const apply = async () => {
    const problem = await commit(`Read a zone file into ${zoneName}`, operations);
    if (problem === '') toast.success('Read as one change.');
    else toast.error(problem);
  };
  return (
    <Part
      title={`${added} new, ${changed} changed, ${removed} gone, ${same} as they are`}
      aside={
        operations.length === 0 ? (
          <span className="quiet">the zone holds it as it is</span>
        ) : (
          <button type="button" className="btn btn-sm btn-primary" onClick={() => void apply()}>
            Apply {operations.length} {operations.length === 1 ? 'row' : 'rows'}
          </button>
        )
      }
    >
      <LineProblems problems={problems} all={faults} />
      <OperationList operations={operations} />
    </Part>
  );
}
