import { formatDuration } from '@wide-lattice/core/english';
import type { BringUpWish } from '@wide-lattice/core/rehearsal';
import { useState } from 'react';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Computing, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ShownRunComparison } from '../worker/slices/rehearsalSlices';
import { wishOf } from './wish';

/** The run beside another: with the nodes of another time, or with built clusters there or not. */
export function CompareView() {
  const [search] = useSearchState();
  const wish = wishOf(search);
  const [other, setOther] = useState<'nodes' | 'built'>('nodes');
  const second: BringUpWish =
    other === 'nodes'
      ? { ...wish, nodes: wish.nodes === 'today' ? 'horizon' : 'today' }
      : { ...wish, isBuiltThere: !wish.isBuiltThere };
  const compared = useSlice('rehearsalsCompared', wish, second);
  return (
    <Part title="Two runs compared">
      <div className="mb-2 w-72">
        <Choice
          label="The run on the left, and the same"
          options={[
            { value: 'nodes', label: `with the nodes ${wish.nodes === 'today' ? 'of the horizon' : 'of today'}` },
            {
              value: 'built',
              label: wish.isBuiltThere ? 'with built clusters brought up too' : 'with built clusters there already',
            },
          ]}
          value={other}
          onChoose={(value) => setOther(value === 'built' ? 'built' : 'nodes')}
        />
      </div>
      {compared === undefined ? <Computing /> : <Differences compared={compared} />}
    </Part>
  );
}

function Differences({ compared }: { readonly compared: ShownRunComparison }) {
  return (
    <>
      <p className="text-[15px]">
        {formatDuration(compared.first)} and {formatDuration(compared.second)}: the second takes{' '}
        <strong>
          {compared.first === compared.second
            ? 'as long'
            : `${formatDuration(Math.abs(compared.second - compared.first))} ${compared.second > compared.first ? 'longer' : 'less'}`}
        </strong>
        .
      </p>
      <table className="mt-1.5 w-full" aria-label="Objects that differ">
        <TableHead labels={['Object', 'In the second', 'First', 'Second']} rightFrom={2} />
        <tbody>
          {compared.differences.map(({ kind, name, what, first, second: after }) => (
            <tr key={`${kind} ${name}`} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                {name} <span className="quiet text-xs">{kind}</span>
              </th>
              <td className={what === 'never comes to be' ? 'text-error font-semibold' : ''}>{what}</td>
              <td className="pl-3 text-right tabular-nums">{Number.isFinite(first) ? formatDuration(first) : '–'}</td>
              <td className="pl-3 text-right tabular-nums">{Number.isFinite(after) ? formatDuration(after) : '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={compared.found} shown={compared.differences.length} />
    </>
  );
}
