export type { Entity, EntityOf, FieldRule, Kind, Plan, PlanKind, PlanSettings } from './entities.js';
export { byKind, kindNames, kindOf, kinds } from './entities.js';
export type { Allocation } from './kinds/allocations.js';
export { USUAL_PREFERENCE } from './kinds/attachments.js';
export type { Attachment } from './kinds/attachments.js';
export type { Backend } from './kinds/backends.js';
export type { Balancer } from './kinds/balancers.js';
export type { Bastion } from './kinds/bastions.js';
export type { Block } from './kinds/blocks.js';
export type { BuildStep, BuildTime } from './kinds/buildTimes.js';
export { buildSteps } from './kinds/buildTimes.js';
export type { Certificate } from './kinds/certificates.js';
export type { Confirmation } from './kinds/confirmations.js';
export { confirmable } from './kinds/confirmations.js';
export type { Connection, ConnectionMethod, TunnelEncapsulation } from './kinds/connections.js';
export { tunnelNames } from './kinds/connections.js';
export { meshLinks } from './kinds/connectionsRules.js';
export type { Answerer, Answering } from './answering.js';
export { answering, podsFor, portsAnswered, selectedBy } from './answering.js';
export { zonesOfCluster } from './zonesOfCluster.js';
export type { Member } from './kinds/members.js';
export type { ServiceExport } from './kinds/serviceExports.js';
export type { Cluster, GrowthKind } from './kinds/clusters.js';
export type { Controller } from './kinds/controllers.js';
export type { Endpoint } from './kinds/endpoints.js';
export type { Expectation } from './kinds/expectations.js';
export type { ForwardingRule } from './kinds/forwardingRules.js';
export type { RecordController } from './kinds/recordControllers.js';
export type { DnsRecord } from './kinds/records.js';
export type { ReferenceGrant } from './kinds/referenceGrants.js';
export type { Resolver } from './kinds/resolvers.js';
export type { Zone } from './kinds/zones.js';
export type { Filter } from './kinds/filters.js';
export type { FilterRule } from './kinds/filterRules.js';
export type { Firewall } from './kinds/firewalls.js';
export type { FirewallRule } from './kinds/firewallRules.js';
export type { Gateway } from './kinds/gateways.js';
export type { IngressRoute } from './kinds/ingressRoutes.js';
export type { InUseRange } from './kinds/inUse.js';
export type { Link, LinkKind } from './kinds/links.js';
export type { Listener } from './kinds/listeners.js';
export type { NatDevice } from './kinds/natDevices.js';
export type { Need } from './kinds/needs.js';
export type { Network } from './kinds/networks.js';
export type { NetworkPolicy } from './kinds/networkPolicies.js';
export type { NodePool } from './kinds/nodePools.js';
export type { Pool } from './kinds/pools.js';
export type { PrefixSet } from './kinds/prefixSets.js';
export type { Profile } from './kinds/profiles.js';
export type { Rebuild } from './kinds/rebuilds.js';
export type { Route } from './kinds/routes.js';
export type { RouteTable } from './kinds/routeTables.js';
export { formatHop } from './kinds/routesRules.js';
export type { Reservation } from './kinds/reservations.js';
export type { ClusterService } from './kinds/services.js';
export type { Shape } from './kinds/shapes.js';
export type { Site } from './kinds/sites.js';
export type { Subnet, SubnetPurpose, InternetEgress } from './kinds/subnets.js';
export type { Template } from './kinds/templates.js';
export type { Workload } from './kinds/workloads.js';
export type {
  ClusterFamily,
  Encapsulation,
  Encryption,
  PodMode,
  IcmpMessage,
  PodRequirement,
  Protocol,
  Purpose,
} from './kinds/vocabulary.js';
export { encapsulationNames, encryptionNames, podRequirements, purposes, USUAL_BYTES } from './kinds/vocabulary.js';
export { defaultSettings, fallbackOf, fallbacks, fieldRules, rulesOf, settingsRules, shownRules } from './fields.js';
export { templateFields } from './templateFields.js';
export type { ReadFieldValue, TemplateField } from './fieldValues.js';
export { readFieldValue, showFieldValue, writeFieldValue } from './fieldValues.js';
export type { FieldValue } from './fieldText.js';
export { readField, readFieldChecked, formatField, writeField } from './fieldText.js';
export { idNamed } from './nameBook.js';
export type { BackendRef, Condition, HeaderChange, ParentRef } from './ingressForms.js';
export {
  readBackendRef,
  readCondition,
  readGatewayListener,
  readGrantFrom,
  readGrantTo,
  readHeaderChange,
  readParentRef,
} from './ingressForms.js';
export type { OwnListener, RouteParent } from './routeParents.js';
export {
  classesOf,
  controllersOf,
  labelsOfNamespace,
  listenersOf,
  mayName,
  parentsOf,
  secretOf,
  takesRoutesOf,
  writeListener,
} from './routeParents.js';
export type { PolicyPeer, PolicyPort, PolicyRule, SelectorTerm } from './selectors.js';
export { labelMap, meets, readNamespaceLabel, readPolicyRule, readSelectorTerm } from './selectors.js';
export type { ContainerPort, GrowthStep, PortRange, ServicePort } from './textForms.js';
export { readContainerPort, readPorts, readServicePort, readStep } from './textForms.js';
export { growsInPlace, lockedFields } from './locks.js';
export type { NeededRebuild, RebuildDecision } from './withRebuilds.js';
export { withRenames } from './withRenames.js';
export { rebuildsNeeded, withRebuilds } from './withRebuilds.js';
export type { EffectiveTemplate } from './templates.js';
export { effectiveTemplate, templateChain, templatePools } from './templates.js';
export { nodePoolsOf } from './nodePoolsOf.js';
export { readStubZone } from './forms.js';
export type { Redirect } from './redirects.js';
export { readRedirect, redirectOf, writeRedirect, withPrefix } from './redirects.js';
export { DEFAULT_BACKEND } from './kinds/ingressRoutes.js';
export { MAX_VALUE } from './kinds/records.js';
export { readTranslation, shownAs, translated, translationsOf, writeTranslation } from './translations.js';
export type { Translation } from './translations.js';
export type { FieldProblem } from './kinds/rules.js';
export { checkField, formatGiven, isId, lineProblem } from './checkField.js';
export { checkEntity, checkFields } from './checkEntity.js';
export { kindRules } from './kinds/kindRules.js';
export { addTo, groupBy, grouped, patchedGroups } from './grouped.js';
export { byId, inOrder, positionOf } from './collection.js';
export { withFallbacks } from './withFallbacks.js';
export { newId } from './newId.js';
export { emptyPlan } from './emptyPlan.js';
export type { Operation, OperationProblem } from './operations.js';
export { addOperation, MAX_PROBLEMS, setOperation, STEP, touchedBy } from './operations.js';
export type { Applied } from './applyOperations.js';
export { applyInSteps, applyOperations } from './applyOperations.js';
export { MAX_FILE_BYTES, MAX_OF_KIND, MAX_OPERATIONS, MAX_ROWS } from './limits.js';
export type { Clash } from './clashes.js';
export { clashesWith } from './clashes.js';
export { mergePlans } from './mergePlans.js';
export type { Merged } from './mergePlans.js';
export { labelOf } from './integrity.js';
export { looseKeyOf, sameRowKeyOf, tellingFieldOf, uniqueKeyOf } from './keys.js';
export { idsIn, referenceFields } from './references.js';
export { hostPrefix, prefixesOf, prefixList, rangeOf } from './rangeOf.js';
export { around, overlapping } from './rangeIndex.js';
export type { Stretch } from './addressSpan.js';
export { addressSpan } from './addressSpan.js';
export { removalOf, removalOfAll } from './removal.js';
export { SharedValues } from './sharedValues.js';
export { duplicateOf } from './duplicate.js';
export { changedBetween } from './changedBetween.js';
export { isSameValue, operationsBetween } from './operationsBetween.js';
export type {
  ClusterPart,
  NameTarget,
  Place,
  Question,
  QuestionNames,
  Service,
  ServiceTarget,
  Target,
  Destination,
} from './question/question.js';
export {
  readQuestion,
  readPlace,
  readPacketQuestion,
  readTarget,
  readWish,
  readZone,
  formatService,
  writePlace,
  writeTarget,
  writeWish,
  zoneWords,
} from './question/question.js';
export type { Outage, OutageNames, OutagePart } from './question/outage.js';
export { outageAsSets, readOutage, writeOutage } from './question/outage.js';
export type { UrlTarget } from './question/urlTarget.js';
export { readUrl, writeUrl } from './question/urlTarget.js';
export type { ProposedKind } from './proposed.js';
export { asProposed, digestOf } from './proposed.js';
export { hasPlanned, plannedMade } from './planned.js';
export type { AskingStop, WorthAsking } from './question/worthAsking.js';
export { worthAsking } from './question/worthAsking.js';
export { positionAtEnd, positionBefore, positionInFront } from './rulePositions.js';
export type { KeyPart } from './kinds/kind.js';
export { isRivalListener } from './listenerRivals.js';
