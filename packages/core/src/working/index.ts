export type { Figure, Source, Working } from './figure.js';
export { figure, sayNumber } from './figure.js';
