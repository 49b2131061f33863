type Fields = Readonly<Record<string, unknown>>;

/** Kinds that version 14 of the plan file gave another name, each as it was called. */
const kindNow: ReadonlyMap<string, string> = new Map([
  ['runs', 'reservations'],
  ['keepers', 'recordControllers'],
  ['forwards', 'forwardingRules'],
]);

/** Fields that version 14 gave another name, by their kind as it is called now, each as it was called. */
const fieldsNow = new Map<string, Readonly<Record<string, string>>>([
  ['allocations', { isFixed: 'isPinned' }],
  ['attachments', { learns: 'accepts', learnsFromIds: 'acceptsFromIds' }],
  ['clusters', { keptObjects: 'preservedObjects', outGb: 'egressGb', podWishes: 'podPreferences' }],
  ['connections', { way: 'method', mostLinks: 'maxLinks', keepsSeconds: 'sessionHoldSeconds' }],
  ['gateways', { takesFrom: 'allowedRoutes', kept: 'preserved' }],
  [
    'ingressRoutes',
    {
      form: 'objectKind',
      furtherParents: 'additionalParents',
      isOldForm: 'isDeprecatedVersion',
      kept: 'preserved',
      limitBy: 'rateLimitAlgorithm',
      perMinute: 'rateLimitPerMinute',
    },
  ],
  ['networkPolicies', { kept: 'preserved' }],
  ['networks', { egress: 'internetEgress' }],
  ['nodePools', { attachmentSubnetIds: 'additionalInterfaceSubnetIds' }],
  ['profiles', { priceOutGb: 'priceEgressGb' }],
  ['referenceGrants', { kept: 'preserved' }],
  ['serviceExports', { kept: 'preserved', mostMs: 'maxRoundTripMs' }],
  ['services', { kept: 'preserved' }],
  [
    'settings',
    {
      expectsJoins: 'expectsMergers',
      weightJoinCost: 'weightConnectionCost',
      weightJoinEffort: 'weightConnectionEffort',
      weightJoinRanges: 'weightConnectionRanges',
      weightJoinReach: 'weightConnectionReach',
      weightJoinSurvival: 'weightConnectionSurvival',
      weightJoinWire: 'weightConnectionWire',
      weightWishes: 'weightPreferences',
    },
  ],
  ['subnets', { wayOut: 'internetEgress' }],
  ['templates', { fixes: 'sets' }],
  ['workloads', { form: 'objectKind', kept: 'preserved' }],
  ['zones', { cutOverAim: 'cutOverTarget' }],
]);

/** A kind by the name that version 14 gave it; any other name as it is. */
export function kindOf14(kind: string): string {
  return kindNow.get(kind) ?? kind;
}

/** Fields that a kind, or the settings, had up to version 13, by the names of version 14; the same object where none changed. */
export function fieldsOf14(kind: string, fields: Fields): Fields {
  const names = fieldsNow.get(kindOf14(kind));
  if (names === undefined || !Object.keys(fields).some((field) => Object.hasOwn(names, field))) return fields;
  // What stands under the old name is what was meant, whatever a usual value says beside it.
  const now = new Set(Object.keys(fields).map((field) => names[field]));
  return Object.fromEntries(
    Object.entries(fields).flatMap(([field, value]) => (now.has(field) ? [] : [[names[field] ?? field, value]])),
  );
}
