/** Largest request body: a change of some ten thousand rows fits. */
export const BODY_LIMIT = '20mb';
