import { profileChoices } from '@wide-lattice/core/exchange';
import type { MissingReference } from '@wide-lattice/core/exchange';
import { kindNames } from '@wide-lattice/core/plan';
import type { Profile } from '@wide-lattice/core/plan';
import { More } from './More';
import { Tick } from './Tick';

const NAMED = 12;
/** Sites whose profile is chosen one by one; of more, the others take the guess. */
const MAX_CHOSEN = 30;

interface MissingReferencesProps {
  readonly missing: readonly MissingReference[];
  readonly isMaking: boolean;
  readonly onMake: (isMaking: boolean) => void;
  readonly profiles: readonly Profile[];
  /** The profiles that were chosen, by the name of the site in small letters. */
  readonly profileOf: Readonly<Record<string, string>>;
  readonly onProfile: (site: string, id: string) => void;
}

/** Sites and networks that rows name and nobody has entered: they are offered to be created with the import. */
export function MissingReferences({
  missing,
  isMaking,
  onMake,
  profiles,
  profileOf,
  onProfile,
}: MissingReferencesProps) {
  if (missing.length === 0) return null;
  const of = (kind: MissingReference['kind']) => missing.filter((each) => each.kind === kind);
  const said = (['sites', 'networks'] as const).flatMap((kind) => {
    const all = of(kind);
    if (all.length === 0) return [];
    const names = all
      .slice(0, NAMED)
      .map(({ name }) => name)
      .join(', ');
    return [
      `${all.length} ${kindNames[kind]}${all.length === 1 ? '' : 's'} (${names}${all.length > NAMED ? ' and others' : ''})`,
    ];
  });
  const needsProfile = of('sites').length > 0;
  return (
    <div className="border-warning mb-2 border-l-4 px-3 py-1">
      <Tick isOn={isMaking} onTick={onMake}>
        Create what is not in the plan yet: {said.join(' and ')}.
      </Tick>
      {needsProfile && (
        <fieldset className="mt-1 ml-6">
          <legend className="quiet">Provider profile of each new site, guessed from its name and its ranges</legend>
          <div className="grid grid-cols-2 gap-x-6 gap-y-1">
            {of('sites')
              .slice(0, MAX_CHOSEN)
              .map(({ name, profileId = '' }) => (
                <label key={name} className="flex min-w-0 items-center gap-2">
                  <span className="min-w-0 flex-1 truncate" title={name}>
                    {name}
                  </span>
                  <select
                    className="select select-xs w-48"
                    aria-label={`Provider profile of ${name}`}
                    value={profileOf[name.toLowerCase()] ?? profileId}
                    onChange={(event) => onProfile(name, event.target.value)}
                  >
                    {profileChoices(profiles).map(({ id, label }) => (
                      <option key={id} value={id}>
                        {label}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
          </div>
          <More all={of('sites').length} shown={MAX_CHOSEN} />
        </fieldset>
      )}
    </div>
  );
}
