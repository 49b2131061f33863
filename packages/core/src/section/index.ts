export { Alongside, placesBefore } from './alongside.js';
export type { Groups } from './groups.js';
export { followGroups, inGroups } from './groups.js';
export type { AnySection, Built, Needed, Needs, Part, PartsOf, Section, ValueOf } from './section.js';
export { section } from './section.js';
export { isSameList } from './sameList.js';
