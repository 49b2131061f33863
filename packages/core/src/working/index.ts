export type { Figure, Source, Working } from './figure.js';
export { beginning, figure, sayCount, sayNames, sayNumber, saySize } from './figure.js';
