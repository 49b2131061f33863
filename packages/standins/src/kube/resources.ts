import { objectVersions } from '@wide-lattice/core/manifests';
import { groupBy } from '@wide-lattice/core/plan';

/** An object of the Kubernetes API. */
export type KubeObject = Readonly<Record<string, unknown>> & {
  readonly apiVersion: string;
  readonly kind: string;
  readonly metadata: Readonly<Record<string, unknown>> & { readonly name: string; readonly namespace?: string };
};

/** A kind of object, as clients find it. */
export interface Resource {
  readonly kind: string;
  /** Empty for the core group. */
  readonly group: string;
  readonly version: string;
  readonly plural: string;
  readonly isNamespaced: boolean;
  readonly shortNames: readonly string[];
}

const described: readonly (readonly [kind: string, plural: string, isNamespaced: boolean, ...shortNames: string[]])[] =
  [
    ['Namespace', 'namespaces', false, 'ns'],
    ['Node', 'nodes', false, 'no'],
    ['Pod', 'pods', true, 'po'],
    ['Service', 'services', true, 'svc'],
    ['Deployment', 'deployments', true, 'deploy'],
    ['StatefulSet', 'statefulsets', true, 'sts'],
    ['DaemonSet', 'daemonsets', true, 'ds'],
    ['EndpointSlice', 'endpointslices', true],
    ['Ingress', 'ingresses', true, 'ing'],
    ['IngressClass', 'ingressclasses', false],
    ['NetworkPolicy', 'networkpolicies', true, 'netpol'],
    ['Gateway', 'gateways', true, 'gtw'],
    ['HTTPRoute', 'httproutes', true],
    ['GRPCRoute', 'grpcroutes', true],
    ['TLSRoute', 'tlsroutes', true],
    ['TCPRoute', 'tcproutes', true],
    ['ReferenceGrant', 'referencegrants', true, 'refgrant'],
    ['ServiceExport', 'serviceexports', true],
    ['ServiceImport', 'serviceimports', true],
  ];

/** The kinds that are served, in the API versions in which the plan writes them. Plurals and short names: from memory of the API references. */
export const resources: readonly Resource[] = described.map(([kind, plural, isNamespaced, ...shortNames]) => {
  const apiVersion = objectVersions[kind] ?? 'v1';
  const [version = '', group = ''] = apiVersion.split('/').reverse();
  return { kind, group, version, plural, isNamespaced, shortNames };
});

/** "v1" or "apps/v1". */
export function groupVersion({ group, version }: Pick<Resource, 'group' | 'version'>): string {
  return group === '' ? version : `${group}/${version}`;
}

/** Groups with their versions and kinds, in their order. */
export function groupVersions(): ReadonlyMap<string, readonly Resource[]> {
  return groupBy(resources, groupVersion);
}
