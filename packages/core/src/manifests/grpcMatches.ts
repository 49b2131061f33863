import type { IngressRoute } from '../plan/index.js';
import { fields } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;
type Place = Pick<IngressRoute, 'path' | 'pathType'>;

/** One element of a path that may be anything. */
const ANY = '[^/]+';
const plain = /^[A-Za-z0-9_.]+$/;
const text = (value: unknown) => (typeof value === 'string' ? value : '');

/**
 * The path that a match of a method of gRPC stands for: a call is a POST to /package.Service/Method (gRPC over HTTP/2, from
 * memory of its protocol). Source of the match: the Gateway API, GRPCRoute (from memory of its reference).
 */
export function grpcPlace(match: Written): Place {
  const { type, service, method } = fields(match['method']);
  const [of, what] = [text(service), text(method)];
  if (type === 'RegularExpression')
    return { pathType: 'RegularExpression', path: `/${of === '' ? ANY : of}/${what === '' ? ANY : what}` };
  if (of === '' && what === '') return { pathType: 'Prefix', path: '/' };
  if (what === '') return { pathType: 'Prefix', path: `/${of}` };
  return of === ''
    ? { pathType: 'RegularExpression', path: `/${ANY}/${what}` }
    : { pathType: 'Exact', path: `/${of}/${what}` };
}

/** The match of a method that a path stands for; undefined where it is for every one. */
export function grpcMethod({ path, pathType }: Place): Written | undefined {
  const at = path.lastIndexOf('/');
  const [service, method] = at > 0 ? [path.slice(1, at), path.slice(at + 1)] : [path.slice(1), ''];
  if (pathType !== 'RegularExpression') {
    if (service === '') return undefined;
    return { type: 'Exact', service, ...(method === '' ? {} : { method }) };
  }
  if (service === ANY && plain.test(method)) return { type: 'Exact', method };
  return {
    type: 'RegularExpression',
    ...(service === ANY ? {} : { service }),
    ...(method === ANY || method === '' ? {} : { method }),
  };
}
