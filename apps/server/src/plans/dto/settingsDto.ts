import type { PlanSettings } from '@wide-lattice/core/plan';
import { describeFields } from './describeFields.js';

/** What holds for the whole plan; its fields are declared by the loop below. */
export class SettingsDto extends (Object as unknown as new () => PlanSettings) {}

describeFields('settings', SettingsDto);
