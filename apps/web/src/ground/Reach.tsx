import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';

/** Who can send to whom, and what lives where: what follows from networks and links. */
export function Reach() {
  const rows = useSlice(['reach'], (core) => core.reach());
  return (
    <Part title="Who reaches whom">
      <p className="quiet mb-2">
        A network reaches its peers and all that share a hub with it. Peering is not transitive. Where two reach one
        another, no destination range may overlap.
      </p>
      {rows?.map((row) => (
        <section key={row.id} className="rule-b py-2" aria-label={row.name}>
          <div className="flex items-baseline justify-between">
            <h3 className="font-semibold">{row.name}</h3>
            <span className="quiet">
              {row.clusters} clusters, {row.inUse} ranges in use
            </span>
          </div>
          {row.reaches.length === 0 ? (
            <p className="quiet">reaches no other network</p>
          ) : (
            <ul>
              {row.reaches.map((other) => (
                <li key={other.name} className="flex justify-between gap-2">
                  <span>{other.name}</span>
                  <span className="quiet">
                    {other.kind === 'hub' ? 'hub' : 'peering'} {other.link}
                    {other.isPlanned && <strong className="text-warning"> planned</strong>}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </section>
      ))}
    </Part>
  );
}
