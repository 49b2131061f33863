import { setOperation } from '@wide-lattice/core/plan';
import type { ClusterFamily, PodMode } from '@wide-lattice/core/plan';
import { Check, X } from 'lucide-react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ConsequenceCell, PodNetworkSheet, ShownFamily } from '../worker/slices/podNetwork';

const titles: Readonly<Record<PodMode, string>> = { overlay: 'Overlay', routed: 'Routed', native: 'Native' };

const familyNames: Readonly<Record<ClusterFamily, string>> = { ipv4: 'IPv4', ipv6: 'IPv6', dual: 'Dual stack' };

/** Modes times families as a small table of scores; the family chosen is laid out below. */
function FamilyTable({
  sheet,
  shown,
  onShow,
}: {
  readonly sheet: PodNetworkSheet;
  readonly shown: ClusterFamily;
  readonly onShow: (family: ClusterFamily) => void;
}) {
  return (
    <table className="mb-2 w-full table-fixed" aria-label="Modes in each address family">
      <colgroup>
        <col className="w-36" />
      </colgroup>
      <TableHead labels={['Score by family', ...Object.values(titles)]} />
      <tbody>
        {sheet.families.map(({ family, modes, winner }) => (
          <tr key={family} className={family === shown ? 'bg-base-200' : ''}>
            <th scope="row" className="text-left font-normal">
              <button
                type="button"
                aria-pressed={family === shown}
                className={`btn btn-ghost btn-xs ${family === shown ? 'font-semibold' : 'font-normal'}`}
                onClick={() => onShow(family)}
              >
                {familyNames[family]}
                {family === sheet.family && <span className="quiet">now</span>}
              </button>
            </th>
            {modes.map(({ mode, score, excluded }) => (
              <td key={mode} title={excluded.join(' ')}>
                {excluded.length > 0 ? (
                  <span className="quiet">excluded</span>
                ) : (
                  <span className={mode === winner ? 'font-semibold' : ''}>
                    {score.value}
                    {mode === winner && <span className="quiet font-normal"> best</span>}
                  </span>
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The three modes side by side for one cluster: whether they can be, what each brings, and the score. */
export function ModeTable({ sheet }: { readonly sheet: PodNetworkSheet }) {
  const commit = useCommit();
  const [search, set] = useSearchState();
  const { clusterId, clusterName, present, isBuilt } = sheet;
  const shown = sheet.families.find(({ family }) => family === search.get('family')) ?? ownFamily(sheet);
  const { family, winner, modes, rows } = shown;
  const use = async (podMode: PodMode) => {
    const problem = await commit(`${clusterName}: pods by ${podMode}`, [
      setOperation('clusters', clusterId, family === sheet.family ? { podMode } : { podMode, family }),
    ]);
    if (problem !== '') toast.error(problem);
  };
  return (
    <Part title={clusterName}>
      {isBuilt && (
        <p className="quiet mb-2">
          Built: the pod network is locked. Another one is a rebuild, and asks for its reason.
        </p>
      )}
      <FamilyTable sheet={sheet} shown={family} onShow={(each) => set({ family: each === sheet.family ? '' : each })} />
      <table className="w-full table-fixed" aria-label={`Pod networks for ${clusterName}`}>
        <colgroup>
          <col className="w-36" />
        </colgroup>
        <thead>
          <tr className="rule-b text-left">
            <th>
              <span className="sr-only">Consequence</span>
            </th>
            {modes.map(({ mode, excluded }) => (
              <th key={mode} className="py-1 pr-2 align-top font-semibold">
                {titles[mode]}{' '}
                <span className="quiet font-normal">
                  {[mode === present && family === sheet.family ? 'now' : '', mode === winner ? 'best that can be' : '']
                    .filter(Boolean)
                    .join(', ')}
                </span>
                <div className="mt-1">
                  <button
                    type="button"
                    className="btn btn-xs btn-outline"
                    disabled={(mode === present && family === sheet.family) || excluded.length > 0}
                    onClick={() => void use(mode)}
                  >
                    {isBuilt ? 'Rebuild as' : 'Use'} {mode}
                  </button>
                </div>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="rule-b align-top">
            <th scope="row" className="quiet py-1 text-left font-normal">
              Possible
            </th>
            {modes.map(({ mode, excluded }) => (
              <td key={mode} className="py-1 pr-2">
                {excluded.length === 0 ? (
                  'yes'
                ) : (
                  <ul>
                    {excluded.map((reason) => (
                      <li key={reason} className="text-error">
                        {reason}
                      </li>
                    ))}
                  </ul>
                )}
              </td>
            ))}
          </tr>
          <tr className="rule-b align-top">
            <th scope="row" className="py-1 text-left font-semibold">
              Score
            </th>
            {modes.map(({ mode, score }) => (
              <td key={mode} className="py-1 text-lg font-semibold">
                <FigureButton figure={score}>{score.value}</FigureButton>
              </td>
            ))}
          </tr>
          {rows.map(({ label, cells }) => (
            <tr key={label} className="rule-b align-top">
              <th scope="row" className="quiet py-0.5 text-left font-normal">
                {label}
              </th>
              {cells.map((cell, i) => (
                <td key={modes[i]?.mode ?? i} className="py-0.5 pr-2">
                  <Cell cell={cell} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}

/** The cluster's own family is always among those compared. */
function ownFamily(sheet: PodNetworkSheet): ShownFamily {
  return sheet.families.find(({ family }) => family === sheet.family) as ShownFamily;
}

function Cell({ cell }: { readonly cell: ConsequenceCell }) {
  if (cell.kind === 'figure')
    return (
      <FigureButton figure={cell.figure}>
        {cell.figure.value.toLocaleString('en-US')} {cell.figure.unit}
      </FigureButton>
    );
  const Icon = cell.isGood ? Check : X;
  return (
    <span className="flex items-start gap-1">
      <Icon
        size={13}
        className={`mt-1 shrink-0 ${cell.isGood ? 'text-success' : 'text-warning'}`}
        aria-label={cell.isGood ? 'welcome' : 'unwelcome'}
      />
      {cell.words}
    </span>
  );
}
