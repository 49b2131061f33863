export type { Figure, Source, Working } from './figure.js';
export { figure, sayCount, sayNumber, saySize } from './figure.js';
