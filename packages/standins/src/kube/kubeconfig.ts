import { stringify } from 'yaml';
import { LOOPBACK } from '../limits.js';
import { userOf } from './access.js';
import type { Role } from './access.js';

/** A kubeconfig for one cluster and one role. Source: the Kubernetes API’s Config v1 (from memory). */
export function kubeconfig(
  cluster: { readonly name: string; readonly port: number },
  role: Role,
  token: string,
  authorityPem: string,
): string {
  const user = userOf(role);
  return stringify({
    apiVersion: 'v1',
    kind: 'Config',
    clusters: [
      {
        name: cluster.name,
        cluster: {
          server: `https://${LOOPBACK}:${cluster.port}`,
          'certificate-authority-data': Buffer.from(authorityPem).toString('base64'),
        },
      },
    ],
    users: [{ name: user, user: { token } }],
    contexts: [
      {
        name: cluster.name,
        context: {
          cluster: cluster.name,
          user,
          ...(role.namespace === '' ? {} : { namespace: role.namespace }),
        },
      },
    ],
    'current-context': cluster.name,
  });
}
