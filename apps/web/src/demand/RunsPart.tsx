import { sayCount } from '@wide-lattice/core/working';
import { controlPlaneRun } from '@wide-lattice/core/allocation';
import { addOperation, newId } from '@wide-lattice/core/plan';
import type { Cluster, Run } from '@wide-lattice/core/plan';
import { Trash2 } from 'lucide-react';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { IconButton } from '../shared/IconButton';

const MOST = 256;

/** Consecutive addresses kept in the cluster's subnets: the control plane with its spare, virtual addresses. */
export function RunsPart({ cluster, runs }: { readonly cluster: Cluster; readonly runs: readonly Run[] }) {
  const commit = useCommit();
  const nameId = useId();
  const countId = useId();
  const [name, setName] = useState('');
  const [text, setText] = useState('1');
  const count = Number(text);
  const isGood = Number.isInteger(count) && count >= 1 && count <= MOST;
  const place = useSlice('placeRun', cluster.id, isGood ? count : 1);
  const keep = async () => {
    if (place === undefined || !place.ok) return;
    const run = { id: newId(), name: name.trim(), clusterId: cluster.id, first: place.first, count, note: '' };
    const problem = await commit(`Keep ${sayCount(count, 'address', 'addresses')} for ${run.name}`, [
      addOperation('runs', run),
    ]);
    if (problem === '') setName('');
    else toast.error(problem);
  };
  const remove = async (run: Run) => {
    const problem = await commit(`Give up ${run.name}`, [{ op: 'remove', kind: 'runs', id: run.id }]);
    if (problem !== '') toast.error(problem);
  };
  const controlNodes = cluster.controlPlane === 'self-run' ? cluster.controlNodes : 3;
  const control = controlPlaneRun(controlNodes).value;
  return (
    <Part title="Consecutive addresses">
      {runs.length > 0 && (
        <table className="mb-2 w-full" aria-label="Consecutive addresses that are kept">
          <tbody>
            {runs.map((run) => (
              <tr key={run.id} className="rule-b">
                <th scope="row" className="py-0.5 text-left font-normal">
                  {run.name}
                </th>
                <td className="font-mono">{run.first}</td>
                <td>
                  {run.count} {run.count === 1 ? 'address' : 'consecutive'}
                </td>
                <td className="w-8">
                  <IconButton label={`Give up ${run.name}`} onClick={() => void remove(run)}>
                    <Trash2 size={13} aria-hidden />
                  </IconButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Known cluster={cluster} />
      <div className="flex items-end gap-3">
        <div>
          <label htmlFor={nameId} className="block">
            Kept for
          </label>
          <input
            id={nameId}
            className="input input-sm w-48"
            placeholder="such as ingress address"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </div>
        <div>
          <label htmlFor={countId} className="block">
            How many
          </label>
          <input
            id={countId}
            className={`input input-sm w-20 ${isGood ? '' : 'input-error'}`}
            inputMode="numeric"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </div>
        <p className="min-w-0 flex-1 pb-1" aria-live="polite">
          {!isGood ? (
            <span className="text-error">Write a whole number from 1 to {MOST}.</span>
          ) : place === undefined ? null : place.ok ? (
            <>
              free from <span className="font-mono">{place.first}</span> in{' '}
              <span className="font-mono">{place.subnet}</span>
            </>
          ) : (
            <span className="text-error">
              {place.reason} {place.fix}
            </span>
          )}
        </p>
        <button
          type="button"
          className="btn btn-sm btn-outline"
          disabled={!isGood || name.trim() === '' || place?.ok !== true}
          onClick={() => void keep()}
        >
          Keep them
        </button>
      </div>
      <p className="quiet mt-1 text-xs">
        {controlNodes} control {controlNodes === 1 ? 'node needs' : 'nodes need'} {control} consecutive addresses: their
        own, the API’s virtual address, one for a rolling upgrade.
      </p>
    </Part>
  );
}

/** What a cluster's machines know by address: the gateways of its subnets, name servers, time servers. */
function Known({ cluster }: { readonly cluster: Cluster }) {
  const known = useSlice('knownAddresses', cluster.id);
  if (known === undefined || known.length === 0) return null;
  return (
    <dl className="mb-2 grid grid-cols-[auto_1fr] gap-x-3">
      {known.map(({ what, addresses }) => (
        <div key={what} className="contents">
          <dt className="quiet">{what}</dt>
          <dd className="font-mono">{addresses.join(', ')}</dd>
        </div>
      ))}
    </dl>
  );
}
