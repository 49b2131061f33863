import type { Cluster, Member } from '@wide-lattice/core/plan';
import { X } from 'lucide-react';
import { IconButton } from '../shared/IconButton';
import { TableHead } from '../shared/TableHead';
import { unsaidSide } from './connectionRequest';
import type { SideTexts } from './connectionRequest';

const dialOptions: readonly Member['dials'][] = ['either', 'dials', 'is dialled'];

interface ChosenProps {
  readonly clusters: readonly Cluster[];
  readonly sides: Readonly<Record<string, SideTexts>>;
  /** The name of the hub; undefined where each is joined with each. */
  readonly hub: string | undefined;
  readonly onSide: (name: string, side: SideTexts) => void;
  readonly onHub: (name: string) => void;
  readonly onLeaveOut: (name: string) => void;
}

/** The clusters to join, each with the addresses of its gateways, whether it dials, and whether it is the hub. */
export function ChosenClusters({ clusters, sides, hub, onSide, onHub, onLeaveOut }: ChosenProps) {
  return (
    <table className="mt-2 w-full" aria-label="Chosen clusters">
      <TableHead labels={['Cluster', 'Gateway addresses', 'Dials', ...(hub === undefined ? [] : ['Hub']), '']} />
      <tbody>
        {clusters.map(({ id, name }) => {
          const side = sides[name] ?? unsaidSide;
          return (
            <tr key={id}>
              <td className="pr-2 font-semibold">{name}</td>
              <td className="py-0.5 pr-2">
                <input
                  className="input input-sm w-full"
                  aria-label={`Gateway addresses of ${name}`}
                  placeholder="of their nodes"
                  value={side.addresses}
                  onChange={(event) => onSide(name, { ...side, addresses: event.target.value })}
                />
              </td>
              <td className="w-32 pr-2">
                <select
                  className="select select-sm w-full"
                  aria-label={`Who dials, of ${name}`}
                  value={side.dials}
                  onChange={(event) => onSide(name, { ...side, dials: event.target.value as Member['dials'] })}
                >
                  {dialOptions.map((option) => (
                    <option key={option}>{option}</option>
                  ))}
                </select>
              </td>
              {hub !== undefined && (
                <td className="w-12">
                  <input
                    type="radio"
                    className="radio radio-xs"
                    name="hub"
                    aria-label={`${name} is the hub`}
                    checked={hub === name}
                    onChange={() => onHub(name)}
                  />
                </td>
              )}
              <td className="w-8 text-right">
                <IconButton label={`Leave out ${name}`} onClick={() => onLeaveOut(name)}>
                  <X size={13} aria-hidden />
                </IconButton>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
