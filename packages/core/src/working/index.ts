export type { Figure, Source, Working } from './figure.js';
export { beginning, figure, formatCount, formatNames, formatNumber, formatSize } from './figure.js';
export { finished } from './steps.js';
export type { Progress, Steps } from './steps.js';
