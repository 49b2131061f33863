/** Names a class that is made for a kind after it: "nodePool" and "Row" give NodePoolRow. */
export function nameClass(made: object, code: string, suffix: string): void {
  Object.defineProperty(made, 'name', { value: `${code.charAt(0).toUpperCase()}${code.slice(1)}${suffix}` });
}
