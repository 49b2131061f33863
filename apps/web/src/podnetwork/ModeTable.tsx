import { setOperation } from '@wide-lattice/core/plan';
import type { ClusterFamily, PodMode } from '@wide-lattice/core/plan';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { ComparedTable } from '../shared/ComparedTable';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { PodNetworkSheet, ShownFamily } from '../worker/slices/podNetwork';

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
  const choose = async (podMode: PodMode) => {
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
      <ComparedTable
        label={`Pod networks for ${clusterName}`}
        options={modes.map(({ mode, excluded, score }) => {
          const isNow = mode === present && family === sheet.family;
          return {
            id: mode,
            title: titles[mode],
            aside: [isNow ? 'now' : '', mode === winner ? 'best achievable' : ''].filter(Boolean).join(', '),
            excluded,
            score,
            action: {
              label: `${isBuilt ? 'Rebuild as' : 'Use'} ${mode}`,
              isDisabled: isNow || excluded.length > 0,
              onAct: () => void choose(mode),
            },
          };
        })}
        rows={rows}
      />
    </Part>
  );
}

/** The cluster's own family is always among those compared. */
function ownFamily(sheet: PodNetworkSheet): ShownFamily {
  return sheet.families.find(({ family }) => family === sheet.family) as ShownFamily;
}
