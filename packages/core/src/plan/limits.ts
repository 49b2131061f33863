/** Rows of one kind that a plan may hold: 5,000 clusters have at most 40,000 of one. */
export const MAX_OF_KIND = 100_000;

/** Rows of all kinds together: 5,000 clusters with what runs on them, their rules, routes and records are 250,000. */
export const MAX_ROWS = 300_000;

/** Bytes of a plan file as it is read: a plan of MAX_ROWS rows is half of it. */
export const MAX_FILE_BYTES = 250_000_000;

/** Operations of one change: as many rows as one kind may have. */
export const MAX_OPERATIONS = 100_000;
