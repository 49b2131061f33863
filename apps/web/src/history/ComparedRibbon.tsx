import { useQuery } from '@tanstack/react-query';
import { contains, parsePrefix } from '@wide-lattice/core/address';
import type { Prefix } from '@wide-lattice/core/address';
import type { RangeChange } from '@wide-lattice/core/evaluation';
import type { Plan } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Choice } from '../shared/Choice';
import { BlockWords, blockShape, RibbonLane } from '../ranges/RibbonLane';
import { core } from '../worker/coreClient';

interface ComparedRibbonProps {
  readonly states: readonly [string, string];
  readonly planAt: (state: string) => Promise<Plan | undefined>;
  readonly ranges: readonly RangeChange[];
}

/** The ranges of clusters in two states of the plan, one above the other to one scale, in a pool where something differs. */
export function ComparedRibbon({ states, planAt, ranges }: ComparedRibbonProps) {
  const { session, plan, revision } = usePlan();
  const changed = ranges.flatMap(({ before, after }) => [before, after]).flatMap(asPrefix);
  const pools = plan.pools.filter((pool) =>
    asPrefix(pool.prefix).some((whole) => changed.some((each) => contains(whole, each))),
  );
  const [chosen, setChosen] = useState('');
  const view = pools.find(({ prefix }) => prefix === chosen)?.prefix ?? pools[0]?.prefix ?? '';
  const { data } = useQuery({
    queryKey: [session.planId, revision, 'ribbons', view, ...states],
    enabled: view !== '',
    queryFn: async () => {
      const [first, second] = await Promise.all(states.map(planAt));
      return core.ask('ribbons', view, first, second);
    },
  });
  if (view === '') return null;
  return (
    <figure className="mt-3" aria-label="The two on the ribbon">
      <Choice
        label="On the ribbon of"
        options={pools.map(({ name, prefix }) => ({ value: prefix, label: `${name}, ${prefix}` }))}
        value={view}
        onChoose={setChosen}
      />
      <div className="mt-2">
        {['First', 'Second'].map((name, i) => (
          <RibbonLane key={name} lane={{ name }}>
            {data?.[i]?.lanes
              .find((lane) => lane.name === 'Clusters')
              ?.blocks.map((block) => {
                const { className, style, ...words } = blockShape(block);
                return (
                  <span
                    key={block.key}
                    role="img"
                    className={className}
                    style={style}
                    {...words}
                    title={words['aria-label']}
                  >
                    <BlockWords block={block} />
                  </span>
                );
              })}
          </RibbonLane>
        ))}
      </div>
    </figure>
  );
}

function asPrefix(text: string): Prefix[] {
  const parsed = parsePrefix(text);
  return parsed.ok ? [parsed.value] : [];
}
