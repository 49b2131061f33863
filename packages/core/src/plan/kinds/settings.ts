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
  expectsMergers: flag({
    label: 'Mergers likely',
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
  weightPreferences: weight('Preferences', 'How much it weighs what a cluster’s pods should be able to do.', 5, 3),
  weightConnectionRanges: weight(
    'Ranges kept',
    'How much it weighs that ranges of joined clusters stay as they are.',
    5,
    9,
  ),
  weightConnectionReach: weight(
    'Reach',
    'How much it weighs that every pod and protocol reaches every other, with its own address.',
    5,
    9,
  ),
  weightConnectionWire: weight('Wire', 'How much packet size, throughput and latency between clusters weigh.', 3, 9),
  weightConnectionSurvival: weight(
    'Survival',
    'How much it weighs what still works when a gateway, a zone or a link fails.',
    5,
    9,
  ),
  weightConnectionEffort: weight('Effort', 'How much gateways, openings and names to run weigh.', 4, 9),
  weightConnectionCost: weight('Cost', 'How much the monthly cost of joining weighs.', 3, 9),
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
