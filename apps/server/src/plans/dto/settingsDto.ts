import type { PlanSettings } from '@wide-lattice/core';
import { Field } from './field.js';

/** What holds for the whole plan. */
export class SettingsDto implements PlanSettings {
  @Field('settings', 'name') name: string;
  @Field('settings', 'note') note: string;
  @Field('settings', 'horizonMonths') horizonMonths: number;
  @Field('settings', 'expectsJoins') expectsJoins: boolean;
  @Field('settings', 'weightAddresses') weightAddresses: number;
  @Field('settings', 'weightReach') weightReach: number;
  @Field('settings', 'weightWire') weightWire: number;
  @Field('settings', 'weightRoutes') weightRoutes: number;
  @Field('settings', 'weightEffort') weightEffort: number;
  @Field('settings', 'weightWishes') weightWishes: number;
  @Field('settings', 'currency') currency: string;
}
