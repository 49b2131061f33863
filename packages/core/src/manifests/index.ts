export { MAX_DOCUMENT, MAX_TEXT } from './documents.js';
export type { ManifestProblem } from './documents.js';
export type { ReadManifests, ReadObject } from './manifests.js';
export { manifestObjects, readManifests, writeManifests } from './manifests.js';
export { versions as objectVersions } from './upgrade.js';
