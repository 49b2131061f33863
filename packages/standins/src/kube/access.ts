import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Resource } from './resources.js';

/** Who may read what: everything, or what is in one namespace. No role may write. */
export interface Role {
  /** Empty for everything. */
  readonly namespace: string;
}

/** Hands out tokens that say which role they are of, good for one start and one cluster. */
export class Access {
  private readonly secret = randomBytes(32);

  tokenFor({ namespace }: Role, clusterId: string): string {
    return `${Buffer.from(namespace).toString('base64url')}.${this.sign(namespace, clusterId).toString('base64url')}`;
  }

  /** The role of an Authorization header; undefined where it holds no token of this start. */
  roleOf(header: string | undefined, clusterId: string): Role | undefined {
    const found = /^Bearer ([\w-]*)\.([\w-]+)$/i.exec(header ?? '');
    if (found === null) return undefined;
    const namespace = Buffer.from(found[1] ?? '', 'base64url').toString();
    const signed = Buffer.from(found[2] ?? '', 'base64url');
    const own = this.sign(namespace, clusterId);
    return signed.length === own.length && timingSafeEqual(signed, own) ? { namespace } : undefined;
  }

  private sign(namespace: string, clusterId: string): Buffer {
    return createHmac('sha256', this.secret).update(`${clusterId}\n${namespace}`).digest();
  }
}

/** How a role is called where it is refused. */
export function userOf({ namespace }: Role): string {
  return namespace === '' ? 'stand-in:reader' : `stand-in:reader-of-${namespace}`;
}

/** Whether a role may read a kind in a namespace; undefined stands for all of them. */
export function mayRead(
  role: Role,
  { isNamespaced, kind }: Resource,
  namespace: string | undefined,
  name: string | undefined,
): boolean {
  if (role.namespace === '') return true;
  return isNamespaced ? namespace === role.namespace : kind === 'Namespace' && name === role.namespace;
}
