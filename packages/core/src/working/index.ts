export type { Figure, Source, Working } from './figure.js';
export { beginning, figure, formatCount, formatNames, formatNumber, formatSize } from './figure.js';
