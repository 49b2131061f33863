import { byId } from '../collection.js';
import type { BuildTime } from './buildTimes.js';
import type { KindRules } from './rules.js';

export const buildTimesRules: KindRules<BuildTime> = {
  label: ({ step, profileId }, plan) =>
    profileId === null ? step : `${step} with ${byId(plan.profiles, profileId)?.name ?? ''}`,
  about: ({ seconds }) => `${seconds} s`,
};
