import { byId } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Choice } from '../shared/Choice';
import { Part } from '../shared/Halves';
import { MoveGround } from './MoveGround';

/** Moves an address block, or one subnet, to other addresses together with all that is kept in it. */
export function MovePart() {
  const { plan } = usePlan();
  const [chosen, setChosen] = useState('');
  const [kind = '', id = ''] = chosen.split(' ');
  return (
    <Part title="Move addresses">
      <p className="quiet mb-2">
        A block goes with its subnets, ranges and devices, and with the rules, routes and records that name them.
      </p>
      <Choice label="What moves" options={optionsOf(plan)} value={chosen} onChoose={setChosen} />
      {(kind === 'blocks' || kind === 'subnets') && (
        <div className="mt-2">
          <MoveGround key={chosen} moving={kind} id={id} onMoved={() => setChosen('')} />
        </div>
      )}
    </Part>
  );
}

function optionsOf(plan: Plan): { value: string; label: string }[] {
  const networkOf = (id: string) => byId(plan.networks, id)?.name ?? '';
  const blocks = plan.blocks.map(({ id, prefix, networkId }) => ({
    value: `blocks ${id}`,
    label: `${networkOf(networkId)}: block ${prefix}`,
  }));
  const subnets = plan.subnets.map(({ id, name, prefix, networkId }) => ({
    value: `subnets ${id}`,
    label: `${networkOf(networkId)}: subnet ${name} ${prefix}`,
  }));
  const all = [...blocks, ...subnets].sort((a, b) => (a.label < b.label ? -1 : 1));
  return [{ value: '', label: 'choose' }, ...all];
}
