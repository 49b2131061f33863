export type {
  Allocation,
  Attachment,
  Block,
  Cluster,
  ClusterFamily,
  Encapsulation,
  Encryption,
  Entity,
  EntityOf,
  GrowthKind,
  InUseRange,
  Kind,
  Link,
  LinkKind,
  Network,
  NodePool,
  Plan,
  PlanSettings,
  PodMode,
  PodRequirement,
  Pool,
  Profile,
  Purpose,
  Rebuild,
  Run,
  Shape,
  Site,
  Subnet,
  SubnetPurpose,
  Template,
  WayOut,
} from './entities.js';
export { encapsulationNames, encryptionNames, kindNames, kinds, podRequirements, purposes } from './entities.js';
export type { FieldRule } from './fieldRule.js';
export { fieldRules, settingsRules } from './fields.js';
export { templateFields } from './templateFields.js';
export type { ReadFix, TemplateField } from './fixes.js';
export { readFix, writeFix } from './fixes.js';
export type { GrowthStep } from './textForms.js';
export { readStep } from './textForms.js';
export { growsInPlace, lockedFields } from './locks.js';
export type { NeededRebuild, RebuildDecision } from './withRebuilds.js';
export { rebuildsNeeded, withRebuilds } from './withRebuilds.js';
export type { EffectiveTemplate } from './templates.js';
export { effectiveTemplate, templateChain, templatePools } from './templates.js';
export { nodePoolsOf } from './nodePoolsOf.js';
export type { FieldProblem } from './checkField.js';
export { checkEntity, checkField, checkFields, defaultSettings, fallbacks, isId, rulesOf } from './checkField.js';
export { byId, inOrder, positionOf } from './collection.js';
export { withFallbacks } from './withFallbacks.js';
export { newId } from './newId.js';
export { emptyPlan } from './emptyPlan.js';
export type { Operation, OperationProblem } from './operations.js';
export { addOperation, setOperation, touchedBy } from './operations.js';
export type { Applied } from './applyOperations.js';
export { applyOperations } from './applyOperations.js';
export { labelOf, uniqueKeyOf } from './integrity.js';
export { prefixesOf, rangeOf } from './rangeOf.js';
export { removalOf, removalOfAll } from './removal.js';
export { duplicateOf } from './duplicate.js';
export { changedBetween } from './changedBetween.js';
export { isSameValue, operationsBetween } from './operationsBetween.js';
