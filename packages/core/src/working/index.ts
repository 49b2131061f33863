export type { Figure, Source, Working } from './figure.js';
export { beginning, figure, sayCount, sayNumber, saySize } from './figure.js';
