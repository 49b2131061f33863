export type {
  Allocation,
  Attachment,
  Block,
  Cluster,
  ClusterFamily,
  Encapsulation,
  Entity,
  EntityOf,
  InUseRange,
  Kind,
  Link,
  LinkKind,
  Network,
  Plan,
  PlanSettings,
  PodMode,
  PodRequirement,
  Pool,
  Profile,
  Purpose,
  Run,
  Shape,
  Site,
  Subnet,
  SubnetPurpose,
  WayOut,
} from './entities.js';
export { encapsulationNames, kindNames, kinds, podRequirements, purposes } from './entities.js';
export type { FieldRule } from './fields.js';
export { fieldRules, settingsRules } from './fields.js';
export type { FieldProblem } from './checkField.js';
export { checkEntity, checkField, checkFields, defaultSettings, fallbacks, isId, rulesOf } from './checkField.js';
export { byId, inOrder, positionOf } from './collection.js';
export { withFallbacks } from './withFallbacks.js';
export { newId } from './newId.js';
export { emptyPlan } from './emptyPlan.js';
export type { Operation } from './operations.js';
export { addOperation, setOperation, touchedBy } from './operations.js';
export type { Applied, OperationProblem } from './applyOperations.js';
export { applyOperations } from './applyOperations.js';
export { labelOf, uniqueKeyOf } from './integrity.js';
export { prefixesOf, rangeOf } from './rangeOf.js';
export { removalOf, removalOfAll } from './removal.js';
export { duplicateOf } from './duplicate.js';
export { changedBetween } from './changedBetween.js';
export { isSameValue, operationsBetween } from './operationsBetween.js';
