import type { ConnectionRequest } from '@wide-lattice/core/crosscluster';
import { tunnelNames } from '@wide-lattice/core/plan';
import { Tick } from '../shared/Tick';
import type { WishTexts } from './connectionRequest';

interface FieldsProps {
  readonly texts: WishTexts;
  readonly change: (part: Partial<WishTexts>) => void;
}

/** What is asked of the connection as a whole. */
export function WishFields({ texts, change }: FieldsProps) {
  const field = (label: string, name: 'gateways' | 'rendezvous' | 'planned' | 'each', placeholder = '') => (
    <label className="block">
      {label}
      <input
        className="input input-sm w-full"
        placeholder={placeholder}
        value={texts[name]}
        onChange={(event) => change({ [name]: event.target.value })}
      />
    </label>
  );
  const tick = (label: string, name: 'isHub' | 'anyProtocol' | 'sourceKept' | 'exportsServices', className = '') => (
    <Tick isOn={texts[name]} onTick={(isOn) => change({ [name]: isOn })} className={className}>
      {label}
    </Tick>
  );
  return (
    <div className="mt-2 grid grid-cols-3 gap-x-4 gap-y-1">
      <label className="block">
        Tunnel
        <select
          className="select select-sm w-full"
          value={texts.tunnel}
          onChange={(event) => change({ tunnel: event.target.value as ConnectionRequest['tunnel'] })}
        >
          {tunnelNames.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      {field('Gateways each', 'gateways')}
      {field('Rendezvous', 'rendezvous', 'address or host name')}
      {field('Planned traffic, Mbit/s each', 'planned')}
      {field('One gateway carries, Mbit/s', 'each')}
      {tick('all joined with a hub', 'isHub', 'self-end')}
      {tick('any protocol', 'anyProtocol')}
      {tick('callers seen as they are', 'sourceKept')}
      {tick('export all their services', 'exportsServices')}
    </div>
  );
}
