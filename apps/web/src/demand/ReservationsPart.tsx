import { formatCount } from '@wide-lattice/core/working';
import { controlPlaneReservation } from '@wide-lattice/core/allocation';
import type { ReservationPlace } from '@wide-lattice/core/allocation';
import { addOperation, newId } from '@wide-lattice/core/plan';
import type { Cluster, Reservation } from '@wide-lattice/core/plan';
import { Trash2 } from 'lucide-react';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { IconButton } from '../shared/IconButton';

const MAX_ADDRESSES = 256;

interface Shown {
  readonly cluster: Cluster;
  readonly reservations: readonly Reservation[];
}

/** Consecutive addresses kept in the cluster's subnets: the control plane with its spare, virtual addresses. */
export function ReservationsPart({ cluster, reservations }: Shown) {
  const controlNodes = cluster.controlPlane === 'self-run' ? cluster.controlNodes : 3;
  return (
    <Part title="Consecutive addresses">
      {reservations.length > 0 && <Reserved reservations={reservations} />}
      <Known cluster={cluster} />
      <Reserve cluster={cluster} />
      <p className="quiet mt-1 text-xs">
        {controlNodes} control {controlNodes === 1 ? 'node needs' : 'nodes need'}{' '}
        {controlPlaneReservation(controlNodes).value} consecutive addresses: their own, the API’s virtual address, one
        for a rolling upgrade.
      </p>
    </Part>
  );
}

function Reserved({ reservations }: Pick<Shown, 'reservations'>) {
  const commit = useCommit();
  const remove = async ({ id, name }: Reservation) => {
    const problem = await commit(`Give up ${name}`, [{ op: 'remove', kind: 'reservations', id }]);
    if (problem !== '') toast.error(problem);
  };
  return (
    <table className="mb-2 w-full" aria-label="Consecutive addresses that are kept">
      <tbody>
        {reservations.map((reservation) => (
          <tr key={reservation.id} className="rule-b">
            <th scope="row" className="py-0.5 text-left font-normal">
              {reservation.name}
            </th>
            <td className="font-mono">{reservation.first}</td>
            <td>
              {reservation.count} {reservation.count === 1 ? 'address' : 'consecutive'}
            </td>
            <td className="w-8">
              <IconButton label={`Give up ${reservation.name}`} onClick={() => void remove(reservation)}>
                <Trash2 size={13} aria-hidden />
              </IconButton>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Asks what for and how many, and says where they would be before they are kept. */
function Reserve({ cluster }: Pick<Shown, 'cluster'>) {
  const commit = useCommit();
  const [name, setName] = useState('');
  const [text, setText] = useState('1');
  const count = Number(text);
  const isGood = Number.isInteger(count) && count >= 1 && count <= MAX_ADDRESSES;
  const place = useSlice('placeReservation', cluster.id, isGood ? count : 1);
  const keep = async () => {
    if (place === undefined || !place.ok) return;
    const kept = { id: newId(), name: name.trim(), clusterId: cluster.id, first: place.first, count, note: '' };
    const problem = await commit(`Keep ${formatCount(count, 'address', 'addresses')} for ${kept.name}`, [
      addOperation('reservations', kept),
    ]);
    if (problem === '') setName('');
    else toast.error(problem);
  };
  return (
    <div className="flex items-end gap-3">
      <Typed label="Kept for" value={name} className="w-48" placeholder="such as ingress address" onType={setName} />
      <Typed
        label="How many"
        value={text}
        className={`w-20 ${isGood ? '' : 'input-error'}`}
        inputMode="numeric"
        onType={setText}
      />
      <p className="min-w-0 flex-1 pb-1" aria-live="polite">
        {isGood ? (
          <Place place={place} />
        ) : (
          <span className="text-error">Write a whole number from 1 to {MAX_ADDRESSES}.</span>
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
  );
}

function Typed({
  label,
  className,
  onType,
  ...input
}: {
  readonly label: string;
  readonly value: string;
  readonly className: string;
  readonly placeholder?: string;
  readonly inputMode?: 'numeric';
  readonly onType: (text: string) => void;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block">
        {label}
      </label>
      <input
        id={id}
        className={`input input-sm ${className}`}
        maxLength={80}
        onChange={(event) => onType(event.target.value)}
        {...input}
      />
    </div>
  );
}

/** Where the addresses would be, or why nowhere. */
function Place({ place }: { readonly place: ReservationPlace | undefined }) {
  if (place === undefined) return null;
  if (!place.ok)
    return (
      <span className="text-error">
        {place.reason} {place.fix}
      </span>
    );
  return (
    <>
      free from <span className="font-mono">{place.first}</span> in <span className="font-mono">{place.subnet}</span>
    </>
  );
}

/** What a cluster's machines know by address: the gateways of its subnets, name servers, time servers. */
function Known({ cluster }: Pick<Shown, 'cluster'>) {
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
