export type { Figure, Source, Working } from './figure.js';
export { figure, sayNumber, saySize } from './figure.js';
