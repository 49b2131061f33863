/** The name, as the widest column. */
export const name = { field: 'name', width: 'minmax(8.5rem, 1.2fr)' } as const;
/** A prefix. */
export const prefix = { field: 'prefix', width: 'minmax(9.5rem, 1fr)' } as const;
/** What is worth knowing. */
export const note = { field: 'note', width: 'minmax(8rem, 1.5fr)' } as const;
/** The network it is in. */
export const network = { field: 'networkId', width: 'minmax(7rem, 1fr)' } as const;
/** What a proposal made it for. */
export const intent = { field: 'intent', width: 'minmax(8rem, 1fr)', isExtra: true, isReadOnly: true } as const;
