/** A share of 0 to 1 as it is said. */
export function percent(share: number): string {
  return `${(100 * share).toLocaleString('en-US', { maximumFractionDigits: 1 })} %`;
}

/** How an object of a cluster is named: by its namespace and name. */
export function nameOf({ namespace, name }: { readonly namespace: string; readonly name: string }): string {
  return `${namespace}/${name}`;
}
