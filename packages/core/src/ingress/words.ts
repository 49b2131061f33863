/** How an object of a cluster is named: by its namespace and name. */
export function nameOf({ namespace, name }: { readonly namespace: string; readonly name: string }): string {
  return `${namespace}/${name}`;
}
