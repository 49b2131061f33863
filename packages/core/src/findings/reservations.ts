import { compareAddresses, containsAddress } from '../address/index.js';
import { heldAddresses, subnetsForReservations } from '../allocation/index.js';
import { byId, rangeOf, addressSpan } from '../plan/index.js';
import type { AddressParts } from '../allocation/index.js';
import type { Plan, Reservation } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = AddressParts & Pick<Plan, 'allocations' | 'sites' | 'profiles'>;

/** Reserved addresses that do not lie in one subnet of their cluster, or on addresses that are taken. */
export function reservationChecks(plan: Parts): Finding[] {
  return plan.reservations.flatMap((reservation) => reservationFinding(plan, reservation));
}

function reservationFinding(plan: Parts, reservation: Reservation): Finding[] {
  const cluster = byId(plan.clusters, reservation.clusterId);
  const site = cluster === undefined ? undefined : byId(plan.sites, cluster.siteId);
  const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
  if (cluster === undefined || profile === undefined) return [];
  const subjects = [
    { kind: 'reservations', id: reservation.id },
    { kind: 'clusters', id: cluster.id },
  ] as const;
  const { first, last } = addressSpan(reservation);
  const subnet = subnetsForReservations(cluster, plan.allocations)
    .map(rangeOf)
    .find((each) => containsAddress(each, first) && containsAddress(each, last));
  if (subnet === undefined)
    return [
      finding('reservation.outside', 'error', subjects, {
        name: reservation.name,
        count: reservation.count,
        first: reservation.first,
        cluster: cluster.name,
      }),
    ];
  const held = heldAddresses(plan, { prefix: subnet, networkId: cluster.networkId, profile }, reservation.id).find(
    // A device among them is told of by its own finding.
    (each) =>
      each.by !== 'device' && compareAddresses(each.last, first) >= 0 && compareAddresses(each.first, last) <= 0,
  );
  if (held === undefined) return [];
  return [
    finding('reservation.taken', 'error', subjects, {
      name: reservation.name,
      count: reservation.count,
      first: reservation.first,
      holder: held.what,
    }),
  ];
}
