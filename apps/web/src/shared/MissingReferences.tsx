import type { MissingReference } from '@wide-lattice/core/exchange';
import { kindNames } from '@wide-lattice/core/plan';
import type { Profile } from '@wide-lattice/core/plan';
import { Tick } from './Tick';

const NAMED = 12;

interface MissingReferencesProps {
  readonly missing: readonly MissingReference[];
  readonly isMaking: boolean;
  readonly onMake: (isMaking: boolean) => void;
  readonly profiles: readonly Profile[];
  readonly profileId: string | undefined;
  readonly onProfile: (id: string) => void;
}

/** Sites and networks that rows name and nobody has entered: they are offered to be created with the import. */
export function MissingReferences({
  missing,
  isMaking,
  onMake,
  profiles,
  profileId,
  onProfile,
}: MissingReferencesProps) {
  if (missing.length === 0) return null;
  const of = (kind: MissingReference['kind']) => missing.filter((each) => each.kind === kind);
  const said = (['sites', 'networks'] as const).flatMap((kind) => {
    const all = of(kind);
    if (all.length === 0) return [];
    const names = all.slice(0, NAMED).map(({ name }) => name).join(', '); // prettier-ignore
    return [
      `${all.length} ${kindNames[kind]}${all.length === 1 ? '' : 's'} (${names}${all.length > NAMED ? ' and others' : ''})`,
    ];
  });
  const needsProfile = of('sites').length > 0;
  return (
    <div className="border-warning mb-2 border-l-4 px-3 py-1">
      <Tick isOn={isMaking} isDisabled={needsProfile && profiles.length === 0} onTick={onMake}>
        Create what is not in the plan yet: {said.join(' and ')}.{' '}
        {needsProfile && profiles.length === 0 && 'Sites need a provider profile; add one at Ground first.'}
      </Tick>
      {needsProfile && profiles.length > 0 && (
        <label className="mt-1 ml-6 flex items-center gap-2">
          Provider profile of the new sites
          <select
            className="select select-xs w-56"
            value={profileId}
            onChange={(event) => onProfile(event.target.value)}
          >
            {profiles.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}
