import { flag, integer, name, note, text } from './field.js';
import type { FileVersion } from './field.js';
import type { EntityOfFields } from './kind.js';

const weight = (label: string, help: string, fallback: number, since: FileVersion = 2) =>
  integer({ label, help, unit: 'of 10', min: 0, max: 10, fallback, since });

/** The plan's own fields: what holds for the whole plan. */
export const settingsFields = {
  name: name('What the plan is called.'),
  note: note(),
  horizonMonths: integer({
    label: 'Horizon',
    help: 'Months from now that ranges must last.',
    unit: 'months',
    min: 1,
    max: 120,
    fallback: 36,
  }),
  expectsJoins: flag({
    label: 'Joins likely',
    help: 'Mergers or partner links are expected: widely used defaults get a note.',
    fallback: true,
  }),
  weightAddresses: weight('Addresses', 'How much addresses taken from routable space weigh.', 5),
  weightReach: weight(
    'Reach',
    'How much it weighs that pods can be reached and load balancers send to them directly.',
    5,
  ),
  weightWire: weight('Wire', 'How much packet size and efficiency weigh.', 3),
  weightRoutes: weight('Routes', 'How much room in route tables weighs.', 3),
  weightEffort: weight('Effort', 'How much the effort to run it weighs.', 4),
  weightWishes: weight('Wishes', 'How much it weighs what a cluster’s pods should be able to do.', 5, 3),
  currency: text({
    label: 'Currency',
    help: 'Currency shown after amounts; empty for none.',
    min: 0,
    max: 12,
    fallback: '',
    since: 3,
  }),
};

/** What holds for the whole plan. */
export type PlanSettings = Omit<EntityOfFields<typeof settingsFields>, 'id'>;
