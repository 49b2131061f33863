import type { PlanSettings } from '@wide-lattice/core';
import { describeFields } from './describeFields.js';

/** What holds for the whole plan; its fields are declared by the loop below. */
export class SettingsDto {}
// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging -- see above
export interface SettingsDto extends PlanSettings {}

describeFields('settings', SettingsDto);
