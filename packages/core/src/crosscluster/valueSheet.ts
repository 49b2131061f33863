import { formatAddress, formatPrefix } from '../address/index.js';
import { openingsOf } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { domainOfSet, suffixOf } from '../naming/index.js';
import { byId, grouped, translationsOf } from '../plan/index.js';
import type { Connection, Plan } from '../plan/index.js';

/** What builders of one member need. */
export interface ValueSheet {
  readonly connection: string;
  readonly cluster: string;
  /** Labels and values, in the order they are filled in. */
  readonly values: readonly { readonly label: string; readonly value: string }[];
}

/** The value sheet of each member of a connection: everything that has to be typed in where it is built. */
export function valueSheets(
  plan: Pick<Plan, 'connections' | 'members' | 'clusters' | 'serviceExports'>,
  forwarding: Forwarding,
  connectionId?: string,
): ValueSheet[] {
  return plan.connections
    .filter(({ id }) => connectionId === undefined || id === connectionId)
    .flatMap((connection) =>
      (grouped(plan.members, 'connectionId').get(connection.id) ?? []).flatMap((member): ValueSheet[] => {
        const cluster = byId(plan.clusters, member.clusterId);
        if (cluster === undefined) return [];
        const ranges = forwarding.rangesOf(cluster.id);
        const of = (purpose: string) =>
          ranges
            .filter((range) => range.purpose === purpose)
            .map(({ prefix }) => prefix)
            .join(', ') || 'not allocated yet';
        const gateways = Array.from({ length: member.gateways }, (_, index) => {
          const gateway = forwarding.gatewayOf(member, index);
          return gateway.ok
            ? `${formatAddress(gateway.value.address)}${gateway.value.host.zone === '' ? '' : ` in ${gateway.value.host.zone}`}`
            : 'not known yet';
        });
        const shown = translationsOf(member).map((each) => `${formatPrefix(each.own)} as ${formatPrefix(each.shown)}`);
        const services = (grouped(plan.serviceExports, 'memberId').get(member.id) ?? []).map(
          ({ namespace, name }) => `${namespace}/${name}`,
        );
        const isGated = connection.way !== 'flat';
        return [
          {
            connection: connection.name,
            cluster: cluster.name,
            values: [
              { label: 'Cluster id', value: member.memberId },
              { label: 'Kind', value: wayWords(connection) },
              { label: 'Pod ranges', value: of('pod') },
              { label: 'Service ranges', value: of('service') },
              { label: 'Translated ranges', value: shown.join(', ') || 'none' },
              { label: 'Service domain', value: domainOfSet(connection) },
              { label: 'DNS suffix', value: suffixOf(member, connection) },
              ...(isGated
                ? [
                    {
                      label: connection.way === 'relays' ? 'Relay addresses' : 'Gateway addresses',
                      value: gateways.join(', '),
                    },
                    { label: 'Dials', value: member.dials },
                    {
                      label: 'Rendezvous',
                      value:
                        connection.rendezvous === ''
                          ? 'none: addresses by hand'
                          : `${connection.rendezvous} tcp ${connection.rendezvousPort}`,
                    },
                    { label: 'Key reference', value: connection.keyReference || 'not said' },
                    { label: 'Openings', value: openings(connection) },
                    {
                      label: 'Probes',
                      value: `every ${connection.probeSeconds} s, gone after ${connection.probesLost}`,
                    },
                  ]
                : []),
              { label: 'Exported services', value: services.join(', ') || 'none' },
            ],
          },
        ];
      }),
    );
}

function wayWords({ way, tunnel, shape }: Connection): string {
  if (way === 'flat') return 'flat';
  return way === 'relays' ? `relays, ${shape}` : `tunnels by ${tunnel}, ${shape}`;
}

function openings(connection: Connection): string {
  const carried = openingsOf(connection).map(({ protocol, port }) => (port === 0 ? protocol : `${protocol} ${port}`));
  const meeting = connection.rendezvous === '' ? [] : [`tcp ${connection.rendezvousPort} to the rendezvous`];
  return [...carried, ...meeting].join(', ');
}

/** The value sheets as lines of one table: connection, cluster, label, value. */
export function sheetRows(sheets: readonly ValueSheet[]): Readonly<Record<string, string>>[] {
  return sheets.flatMap(({ connection, cluster, values }) =>
    values.map(({ label, value }) => ({ connection, cluster, label, value })),
  );
}
