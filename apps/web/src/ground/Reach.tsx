import type { ReachRow } from '../worker/slices/reach';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';

/** Who can send to whom, and what lives where: what follows from networks and links. */
export function Reach() {
  const rows = useSlice('reach');
  return (
    <Part title="Who reaches whom">
      <p className="quiet mb-2">
        A network reaches those it has a peering, tunnel or circuit with and all that share a hub with it, as far as
        they advertise and it learns. Nothing is passed on unless a network in between lists it. Where two reach one
        another, no destination range may overlap.
      </p>
      {rows?.map((row) => (
        <section key={row.id} className="rule-b py-2" aria-label={row.name}>
          <div className="flex items-baseline justify-between">
            <h3 className="font-semibold">{row.name}</h3>
            <span className="quiet">
              {count(row.clusters, 'cluster')}, {count(row.inUse, 'range')} in use
            </span>
          </div>
          {row.reaches.length === 0 ? (
            <p className="quiet">reaches no other network</p>
          ) : (
            <dl>
              {byLink(row).map(({ link, kind, isPlanned, names }) => (
                <div key={link} className="grid grid-cols-[auto_1fr] gap-x-3">
                  <dt className="quiet">
                    by {kind} {link}
                    {isPlanned && <strong className="text-warning"> planned</strong>}
                  </dt>
                  <dd className="text-right">{names.join(', ')}</dd>
                </div>
              ))}
            </dl>
          )}
        </section>
      ))}
    </Part>
  );
}

function byLink({ reaches }: ReachRow) {
  const links = new Map<string, ReachRow['reaches'][number] & { names: string[] }>();
  for (const reached of reaches) {
    const known = links.get(reached.link);
    if (known === undefined) links.set(reached.link, { ...reached, names: [reached.name] });
    else known.names.push(reached.name);
  }
  return [...links.values()];
}

function count(n: number, what: string): string {
  return `${n} ${what}${n === 1 ? '' : 's'}`;
}
