/** Largest request body: a change of 100,000 rows fits. */
export const BODY_LIMIT = '40mb';
