import { FigureButton } from '../shared/FigureButton';
import { PurposeTag, VerdictMark } from '../shared/Marks';
import type { ClusterSheet } from '../worker/slices/clusterSheet';
import { placeKey, formatPlace } from './clusterDraft';
import type { Draft, Place } from './clusterDraft';

interface RangeTableProps {
  readonly sheet: ClusterSheet;
  readonly stored: ClusterSheet;
  readonly draft: Draft;
  readonly problems: ReadonlyMap<string, string>;
  readonly onRange: (place: Place, text: string, now: string) => void;
}

/** The ranges a cluster needs, each typed in place with what follows beside it. */
export function RangeTable({ sheet, stored, draft, problems, onRange }: RangeTableProps) {
  const held = new Map(stored.needs.map((need) => [placeKey(need), need.allocation]));
  return (
    <table className="w-full">
      <thead>
        <tr className="quiet text-left">
          <th className="w-40 font-normal">For</th>
          <th className="w-20 font-normal">Needs</th>
          <th className="font-normal">Range</th>
          <th className="w-32 text-right font-normal">Addresses</th>
          <th className="w-28 pl-3 font-normal">Verdict</th>
        </tr>
      </thead>
      <tbody>
        {sheet.needs.map((need) => (
          <RangeRow key={placeKey(need)} need={need} {...{ held, draft, problems, onRange }} />
        ))}
      </tbody>
    </table>
  );
}

interface RangeRowProps extends Pick<RangeTableProps, 'draft' | 'problems' | 'onRange'> {
  readonly need: RangeTableProps['sheet']['needs'][number];
  readonly held: ReadonlyMap<string, RangeTableProps['stored']['needs'][number]['allocation']>;
}

function RangeRow({ need, held, draft, problems, onRange }: RangeRowProps) {
  const key = placeKey(need);
  const now = held.get(key)?.prefix ?? '';
  const problem = problems.get(key);
  return (
    <tr className="align-top">
      <th scope="row" className="py-1 text-left font-normal">
        <span className="inline-flex items-center gap-1.5">
          <PurposeTag purpose={need.purpose} />
          {need.purpose} {need.zone}{' '}
          <span className="quiet">{need.turn === 1 ? need.family : `turn ${need.turn}`}</span>
        </span>
      </th>
      <td className={`py-1 font-mono ${need.isLargeEnough ? '' : 'text-error font-semibold'}`}>
        {need.needed !== undefined && <FigureButton figure={need.needed}>/{need.needed.value}</FigureButton>}
      </td>
      <td className="py-0.5">
        <input
          className={`input input-xs w-full font-mono ${problem === undefined ? '' : 'input-error'}`}
          aria-label={formatPlace(need)}
          aria-invalid={problem !== undefined}
          placeholder={need.isOffered ? 'another subnet, if those cannot grow' : 'none yet: type one, or propose'}
          autoComplete="off"
          value={draft.ranges[key]?.text ?? now}
          onChange={(event) => onRange(need, event.target.value, now)}
        />
        {problem !== undefined && <p className="text-error text-xs">{problem}</p>}
      </td>
      <td className="py-1 text-right font-mono">{need.size}</td>
      <td className="py-1 pl-3">
        {need.allocation === undefined ? (
          <span className="quiet">{need.isOffered ? '' : 'none yet'}</span>
        ) : need.isLargeEnough ? (
          <VerdictMark verdict={need.verdict} />
        ) : (
          <span className="text-error font-semibold">too small</span>
        )}
      </td>
    </tr>
  );
}
