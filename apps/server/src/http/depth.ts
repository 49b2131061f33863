/** Levels of lists and objects in one another that a body may have: an operation of a change has five. */
export const MAX_LEVELS = 32;

/** The type of the error that a body with more of them is refused with. */
export const TOO_DEEP = 'body.too.deep';

/** Looks at the bytes of a JSON body before anything goes down its levels by recursion. */
export function refuseDeep(body: Buffer): void {
  let level = 0;
  let isInText = false;
  for (let at = 0; at < body.length; at++) {
    const sign = body[at];
    if (isInText) {
      if (sign === 0x5c) at++;
      else if (sign === 0x22) isInText = false;
    } else if (sign === 0x22) isInText = true;
    else if (sign === 0x5b || sign === 0x7b) {
      if (++level > MAX_LEVELS) throw Object.assign(new Error('too deep'), { type: TOO_DEEP });
    } else if (sign === 0x5d || sign === 0x7d) level--;
  }
}
