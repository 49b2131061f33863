export { MAX_DOCUMENT, MAX_TEXT } from './documents.js';
export type { ManifestProblem } from './documents.js';
export type { ReadManifests, ReadObject } from './manifests.js';
export { readManifests, writeManifests } from './manifests.js';
