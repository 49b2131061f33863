/** Levels of lists and objects in one another that a body may have: an operation of a change has five. */
export const MAX_LEVELS = 32;

/** The type of the error that a body with more of them is refused with. */
export const TOO_DEEP = 'body.too.deep';
