import { formatNumber } from '@wide-lattice/core/working';
import { MAX_COPIES } from '@wide-lattice/core/allocation';
import { useSlice } from '../plan/useSlice';

/** How many more clusters like this one find all their ranges in what is left, and what the next would lack. */
export function MoreLikeThis({ clusterId }: { readonly clusterId: string }) {
  const more = useSlice('howManyMore', clusterId);
  if (more === undefined) return null;
  if (more.stoppedBy === undefined)
    return <p>At least {formatNumber(MAX_COPIES)} more like this one fit in what is left.</p>;
  return (
    <p>
      <strong>{formatNumber(more.count)}</strong> more like this one fit in what is left; the next would lack{' '}
      {more.stoppedBy}.
    </p>
  );
}
