import { grouped } from './grouped.js';
import { byId } from './collection.js';
import type { Plan } from './entities.js';
import { readGatewayListener, readGrantFrom, readGrantTo, readParentRef, takers } from './ingressForms.js';
import type { GatewayListener } from './ingressForms.js';
import type { Cluster } from './kinds/clusters.js';
import type { Controller } from './kinds/controllers.js';
import type { Gateway } from './kinds/gateways.js';
import type { IngressRoute } from './kinds/ingressRoutes.js';
import { meets, readNamespaceLabel, readSelectorTerm } from './selectors.js';

const none: readonly never[] = [];

/** A gateway that a route attaches to, with the one listener that it names; empty for each that takes it. */
export interface RouteParent {
  readonly gateway: Gateway;
  readonly listener: string;
}

/** The gateways that a route of the Gateway API attaches to, its first before the further ones. */
export function parentsOf(parts: Pick<Plan, 'gateways'>, route: IngressRoute): RouteParent[] {
  const { gatewayId, listener, additionalParents, clusterId } = route;
  const first = byId(parts.gateways, gatewayId ?? '');
  const further = additionalParents.flatMap((text): RouteParent[] => {
    const ref = readParentRef(text);
    const gateway = (grouped(parts.gateways, 'clusterId').get(clusterId) ?? none).find(
      ({ namespace, name }) => namespace === ref?.namespace && name === ref.gateway,
    );
    return gateway === undefined || ref === undefined ? [] : [{ gateway, listener: ref.listener }];
  });
  return first === undefined ? further : [{ gateway: first, listener }, ...further];
}

/** The class that an Ingress without one gets: the default of its cluster; empty where there is none. */
function defaultClassOf(parts: Pick<Plan, 'controllers'>, clusterId: string): string {
  const own = grouped(parts.controllers, 'clusterId').get(clusterId) ?? none;
  return own.find(({ defaultClass }) => defaultClass !== '')?.defaultClass ?? '';
}

/** The classes by which controllers find a route: those of its gateways, or an Ingress’s own; none where it has none. */
export function classesOf(parts: Pick<Plan, 'gateways' | 'controllers'>, route: IngressRoute): string[] {
  const { objectKind, className, clusterId } = route;
  const own = className === '' ? defaultClassOf(parts, clusterId) : className;
  const classes = objectKind === 'Ingress' ? [own] : parentsOf(parts, route).map(({ gateway }) => gateway.className);
  return [...new Set(classes)].filter((each) => each !== '');
}

/** The controllers of a cluster that serve some classes. */
export function controllersOf(
  parts: Pick<Plan, 'controllers'>,
  clusterId: string,
  classes: readonly string[],
): readonly Controller[] {
  return (grouped(parts.controllers, 'clusterId').get(clusterId) ?? none).filter((controller) =>
    controller.classes.some((each) => classes.includes(each)),
  );
}

/** The labels of a namespace: its name, which every one has, and what the cluster says of it. */
export function labelsOfNamespace({ namespaceLabels }: Pick<Cluster, 'namespaceLabels'>, namespace: string) {
  const own = namespaceLabels
    .flatMap((text) => readNamespaceLabel(text) ?? [])
    .filter((each) => each.namespace === namespace);
  return new Map([['kubernetes.io/metadata.name', namespace], ...own.map(({ key, value }) => [key, value] as const)]);
}

const fromOf: Readonly<Record<(typeof takers)[number], Gateway['allowedRoutes']>> = {
  own: 'its namespace',
  all: 'all namespaces',
  labelled: 'labelled namespaces',
};

/** A listener of a gateway, with what it has of the gateway where it says nothing itself. */
export interface OwnListener extends Omit<GatewayListener, 'from'> {
  readonly allowedRoutes: Gateway['allowedRoutes'];
}

/** The listeners of a gateway. */
export function listenersOf(gateway: Gateway): OwnListener[] {
  return gateway.listeners.flatMap((text) => {
    const read = readGatewayListener(text);
    if (read === undefined) return [];
    const { from, ...listener } = read;
    const endsTls = listener.protocol === 'https' || (listener.protocol === 'tls' && !listener.isPassthrough);
    const certificate = listener.certificate === '' && endsTls ? gateway.certificate : listener.certificate;
    return [{ ...listener, certificate, allowedRoutes: from === undefined ? gateway.allowedRoutes : fromOf[from] }];
  });
}

/** A listener as its gateway writes it: what it has of the gateway is left out. */
export function writeListener(
  { name, protocol, port, host, certificate, isPassthrough, allowedRoutes }: OwnListener,
  gateway: Pick<Gateway, 'certificate' | 'allowedRoutes'>,
): string {
  const from = takers.find((each) => fromOf[each] === allowedRoutes);
  return [
    name,
    protocol,
    port,
    host,
    isPassthrough
      ? 'passthrough'
      : certificate === '' || certificate === gateway.certificate
        ? ''
        : `cert ${certificate}`,
    allowedRoutes === gateway.allowedRoutes ? '' : `from ${from ?? ''}`,
  ]
    .filter((each) => each !== '')
    .join(' ');
}

/** Whether a listener of a gateway takes routes of a namespace. */
export function takesRoutesOf(
  gateway: Gateway,
  { allowedRoutes }: Pick<OwnListener, 'allowedRoutes'>,
  cluster: Pick<Cluster, 'namespaceLabels'>,
  namespace: string,
): boolean {
  switch (allowedRoutes) {
    case 'all namespaces':
      return true;
    case 'its namespace':
      return namespace === gateway.namespace;
    case 'labelled namespaces': {
      const terms = gateway.namespaceTerms.flatMap((text) => readSelectorTerm(text) ?? []);
      return meets(labelsOfNamespace(cluster, namespace), terms);
    }
  }
}

/** The secret that a certificate is called by: "edge-cert" of the namespace that names it, "shop/edge-cert" of another one. */
export function secretOf(certificate: string, own: string): { readonly namespace: string; readonly name: string } {
  const at = certificate.indexOf('/');
  return at < 0
    ? { namespace: own, name: certificate }
    : { namespace: certificate.slice(0, at), name: certificate.slice(at + 1) };
}

/**
 * Whether an object may name a service or secret of another namespace: a grant there says so. Of its own namespace it may
 * name any. Source: the Gateway API, ReferenceGrant (from memory of its reference).
 */
export function mayName(
  parts: Pick<Plan, 'referenceGrants'>,
  clusterId: string,
  by: { readonly kind: string; readonly namespace: string },
  to: { readonly kind: 'Service' | 'Secret'; readonly namespace: string; readonly name: string },
): boolean {
  if (by.namespace === to.namespace) return true;
  return (grouped(parts.referenceGrants, 'clusterId').get(clusterId) ?? none).some(
    (grant) =>
      grant.namespace === to.namespace &&
      grant.from.some((text) => {
        const from = readGrantFrom(text);
        return from?.kind === by.kind && from.namespace === by.namespace;
      }) &&
      grant.to.some((text) => {
        const named = readGrantTo(text);
        return named?.kind === to.kind && (named.name === '' || named.name === to.name);
      }),
  );
}
