import type { KindRules } from './rules.js';
import type { Shape } from './shapes.js';

export const shapesRules: KindRules<Shape> = {
  label: ({ name }) => name,
  about: ({ vcpus, memoryGib }) => `${vcpus} vCPU, ${memoryGib} GiB`,
};
