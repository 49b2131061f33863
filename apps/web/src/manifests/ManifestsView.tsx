import { formatNumber } from '@wide-lattice/core/working';
import type { ReadManifests } from '@wide-lattice/core/manifests';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Part } from '../shared/Halves';
import { LineProblems } from '../shared/LineProblems';
import { OperationList } from '../shared/OperationList';
import { saveFile } from '../shared/saveFile';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import { ApplyButton } from '../shared/ApplyButton';
import { Removals } from '../shared/Removals';

// The editor is only loaded where manifests are.
const TextEditor = lazy(async () => ({ default: (await import('../shared/TextEditor')).TextEditor }));

const none: ReadManifests['problems'] = [];

/** Manifests of a cluster: read from text or files with problems at their lines beside what they would change, and written back. */
export function ManifestsView() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const chosen = plan.clusters.find(({ id }) => id === search.get('of')) ?? plan.clusters[0];
  const clusterId = chosen?.id ?? '';
  const [start, setStart] = useState('');
  const [text, setText] = useState('');
  const readText = useDeferredValue(text);
  const { slice: read, isFresh } = useAnswer('manifests', clusterId, readText);
  const load = (loaded: string) => {
    setStart(loaded);
    setText(loaded);
  };
  const open = async (files: FileList | null) => {
    const texts = await Promise.all([...(files ?? [])].map((file) => file.text()));
    load(texts.join('\n---\n'));
  };
  const written = async () => load(await core.ask('manifestText', clusterId));
  const save = async () => {
    const all = await core.ask('manifestText', clusterId);
    saveFile(new Blob([all], { type: 'application/yaml' }), `${chosen?.name ?? 'cluster'}.yaml`);
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="rule-b flex flex-wrap items-end gap-2 px-4 py-2">
        <Choice
          label="Cluster"
          options={plan.clusters.map(({ id, name }) => ({ value: id, label: name }))}
          value={clusterId}
          onChoose={(id) => set({ of: id })}
        />
        <FilesButton onOpen={(files) => void open(files)} />
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void written()}>
          Show manifests
        </button>
        <button type="button" className="btn btn-sm btn-outline" onClick={() => void save()}>
          Export manifests
        </button>
      </div>
      <div className="rule-b h-72 shrink-0">
        <Suspense fallback={null}>
          <TextEditor label="Manifests" isYaml text={start} problems={read?.problems ?? none} onChange={setText} />
        </Suspense>
      </div>
      {text.trim() === '' ? (
        <p className="quiet px-4 py-3">
          Paste manifests, or open files: workloads, services, Ingress, the Gateway API, network policies, exported
          services; several documents with --- between. Retired versions are brought to that of today.
        </p>
      ) : (
        read !== undefined && (
          <Outcome read={read} isFresh={isFresh && readText === text} clusterName={chosen?.name ?? ''} />
        )
      )}
    </div>
  );
}

function FilesButton({ onOpen }: { readonly onOpen: (files: FileList | null) => void }) {
  return (
    <label className="btn btn-sm btn-outline">
      Open files
      <input
        type="file"
        multiple
        accept=".yaml,.yml,.json"
        className="sr-only"
        onChange={(event) => onOpen(event.target.files)}
      />
    </label>
  );
}

interface OutcomeProps {
  readonly read: ReadManifests;
  /** Whether it is of the text in the editor. */
  readonly isFresh: boolean;
  readonly clusterName: string;
}

function Outcome({ read, isFresh, clusterName }: OutcomeProps) {
  const { objects, problems } = read;
  const commit = useCommit();
  const gone = read.operations.filter(({ op }) => op === 'remove');
  const [isRemoving, setRemoving] = useState(false);
  const operations = isRemoving ? read.operations : read.operations.filter(({ op }) => op !== 'remove');
  const apply = async () => {
    const problem = await commit(`Read manifests of ${clusterName}`, operations);
    if (problem === '') toast.success('Imported as one change.');
    else toast.error(problem);
  };
  const told = objects.filter(({ from, unknown }) => from !== '' || unknown.length > 0);
  return (
    <>
      <Part
        title={isFresh ? `${objects.length} ${objects.length === 1 ? 'object' : 'objects'} read` : 'Reading...'}
        aside={
          isFresh && read.operations.length === 0 ? (
            <span className="quiet">the plan holds them as they are</span>
          ) : (
            <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} />
          )
        }
      >
        <LineProblems problems={problems} all={problems.length} />
        <Removals of={gone} isOn={isRemoving} onTick={setRemoving}>
          The plan has {formatNumber(gone.length)} {gone.length === 1 ? 'rule' : 'rules'} of these routes that the text
          no longer has.
        </Removals>
        <OperationList operations={operations} />
      </Part>
      {told.length > 0 && (
        <Part title="Upgraded and kept">
          {told.slice(0, MAX_SHOWN).map(({ kind, name, from, changes, unknown }) => (
            <div key={`${kind} ${name}`} className="rule-b py-1">
              <strong>
                {kind} {name}
              </strong>
              {from !== '' && (
                <ul className="list-disc pl-5">
                  {changes.map((change) => (
                    <li key={change}>{change}</li>
                  ))}
                </ul>
              )}
              {unknown.length > 0 && (
                <p className="quiet">
                  Kept, though the plan does not know it: {unknown.slice(0, 6).join(', ')}
                  {unknown.length > 6 ? ` and ${unknown.length - 6} more` : ''}
                </p>
              )}
            </div>
          ))}
        </Part>
      )}
    </>
  );
}

const MAX_SHOWN = 40;
