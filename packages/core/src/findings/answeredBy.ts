/** What a proposal is for. */
export type Proposing = 'ranges' | 'moves' | 'egress' | 'entryPoints' | 'names' | 'connections';

/** The findings that each proposal is there to end, by their codes; one that ends with a dot stands for all that begin so. */
const answered: Readonly<Record<Proposing, readonly string[]>> = {
  ranges: ['range.missing', 'range.too-small', 'range.outside-pools', 'range.outside-network', 'overlap.conflict'],
  // What moves answers for no finding of its own: what it mends and brings is told.
  moves: [],
  egress: ['egress.', 'need.', 'route.', 'nat.other-zone', 'nat.no-address', 'opening.', 'path.', 'address.taken'],
  entryPoints: ['entry.', 'listener.', 'backend.', 'balancer.', 'address.taken'],
  names: ['name.', 'record.', 'zone.', 'certificate.', 'entry.certificate', 'listener.certificate'],
  connections: ['connection.', 'export.'],
};

/** Whether a proposal is responsible for the findings of a check: while one of them stands, it does not say that nothing is missing. */
export function isAnsweredBy(proposing: Proposing, code: string): boolean {
  return answered[proposing].some((each) => (each.endsWith('.') ? code.startsWith(each) : code === each));
}
