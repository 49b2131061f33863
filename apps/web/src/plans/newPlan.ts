import { demoPlan } from '@wide-lattice/core/demo';
import { emptyPlan } from '@wide-lattice/core/plan';
import { starterPlan } from '@wide-lattice/core/starter';
import type { Plan } from '@wide-lattice/core/plan';
import type { StarterName } from '@wide-lattice/core/starter';

/** What a new plan begins with. */
export interface NewPlan {
  readonly name: string;
  readonly from: 'starter' | 'spreadsheet' | 'demo' | 'empty';
  readonly starter: StarterName;
  readonly site: string;
  readonly network: string;
}

/** The plan that a choice gives. */
export function planOf({ name, from, starter, site, network }: NewPlan): Plan {
  switch (from) {
    case 'starter':
      return starterPlan(name, starter, { site, network });
    case 'spreadsheet':
      // Its sites and networks come with the table.
      return starterPlan(name, starter, {});
    case 'demo': {
      const demo = demoPlan();
      return { ...demo, settings: { ...demo.settings, name } };
    }
    case 'empty':
      return emptyPlan({ name });
  }
}

/** Where a new plan opens: where the next thing to do is. */
export function openingOf(id: string, from: NewPlan['from']): string {
  switch (from) {
    case 'starter':
      return `/plans/${id}/demand`;
    case 'spreadsheet':
      return `/plans/${id}/demand?dialog=import`;
    case 'demo':
      return `/plans/${id}/board`;
    case 'empty':
      return `/plans/${id}/ground?show=profiles`;
  }
}
