import { secretOf } from '../plan/index.js';
import type { Certificate } from '../plan/index.js';

/** Whether a text of a listener, gateway or route names a certificate: by the name of its secret, in its cluster where it has one. */
export function isNamedBy(
  { name, clusterId }: Certificate,
  text: string,
  ownClusterId: string,
  namespace: string,
): boolean {
  if (text === '' || secretOf(text, namespace).name !== name) return false;
  return clusterId === null || ownClusterId === '' || clusterId === ownClusterId;
}
