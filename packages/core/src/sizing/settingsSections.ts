import { section } from '../section/index.js';

/** Months to the horizon; a section of its own, so that other settings change nothing that only reads it. */
export const horizon = section({
  name: 'horizon',
  reads: ['settings'],
  needs: {},
  build: ({ settings }) => settings.horizonMonths,
});

/** Whether joins of networks are likely. */
export const expectsMergers = section({
  name: 'expects joins',
  reads: ['settings'],
  needs: {},
  build: ({ settings }) => settings.expectsMergers,
});
