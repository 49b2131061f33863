import 'reflect-metadata';
import { webcrypto } from 'node:crypto';
import { createSecureContext } from 'node:tls';
import type { SecureContext } from 'node:tls';
import {
  AuthorityKeyIdentifierExtension,
  BasicConstraintsExtension,
  ExtendedKeyUsage,
  ExtendedKeyUsageExtension,
  KeyUsageFlags,
  KeyUsagesExtension,
  PemConverter,
  SubjectAlternativeNameExtension,
  X509CertificateGenerator,
} from '@peculiar/x509';
import type { JsonGeneralName, X509Certificate } from '@peculiar/x509';
import { LRUCache } from 'lru-cache';
import { parseAddress } from '@wide-lattice/core/address';
import { LIMITS } from '../limits.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const;

/** A key with its certificate, as TLS takes them. */
export interface Credentials {
  readonly key: string;
  readonly cert: string;
}

/** A certificate authority that is made at each start, and trusted only by clients that are given its certificate: its key never leaves the process. */
export class Authority {
  private readonly contexts = new LRUCache<string, Promise<SecureContext>>({ max: LIMITS.remembered });

  private constructor(
    private readonly certificate: X509Certificate,
    private readonly keys: webcrypto.CryptoKeyPair,
    /** One key for all certificates: they differ in their names alone. */
    private readonly leafKeys: webcrypto.CryptoKeyPair,
    private readonly leafKey: string,
  ) {}

  static async make(): Promise<Authority> {
    const [keys, leafKeys] = await Promise.all([newKeys(), newKeys()]);
    const now = Date.now();
    const certificate = await X509CertificateGenerator.createSelfSigned({
      name: 'CN=Wide Lattice stand-ins',
      serialNumber: serial(),
      notBefore: new Date(now - HOUR_MS),
      notAfter: new Date(now + LIMITS.minutes * 60_000 + DAY_MS),
      signingAlgorithm: ALGORITHM,
      keys,
      extensions: [
        new BasicConstraintsExtension(true, 0, true),
        new KeyUsagesExtension(KeyUsageFlags.keyCertSign | KeyUsageFlags.cRLSign, true),
      ],
    });
    const pkcs8 = await webcrypto.subtle.exportKey('pkcs8', leafKeys.privateKey);
    return new Authority(certificate, keys, leafKeys, PemConverter.encode(pkcs8, PemConverter.PrivateKeyTag));
  }

  /** The authority’s certificate, as clients are told to trust it. */
  get pem(): string {
    return this.certificate.toString('pem');
  }

  /** A key and a certificate for some names or addresses; one that has expired where that is asked for. */
  async issue(names: readonly string[], isExpired: boolean): Promise<Credentials> {
    const now = Date.now();
    const made = await X509CertificateGenerator.create({
      // Clients read the names beside it; the common name holds 64 characters.
      subject: [{ CN: [(names[0] ?? '').slice(0, 64)] }],
      issuer: this.certificate.subject,
      serialNumber: serial(),
      notBefore: new Date(now - (isExpired ? 2 * DAY_MS : HOUR_MS)),
      notAfter: new Date(isExpired ? now - DAY_MS : now + LIMITS.minutes * 60_000 + DAY_MS),
      signingAlgorithm: ALGORITHM,
      publicKey: this.leafKeys.publicKey,
      signingKey: this.keys.privateKey,
      extensions: [
        new BasicConstraintsExtension(false, undefined, true),
        new KeyUsagesExtension(KeyUsageFlags.digitalSignature, true),
        new ExtendedKeyUsageExtension([ExtendedKeyUsage.serverAuth]),
        new SubjectAlternativeNameExtension(names.map(generalName)),
        await AuthorityKeyIdentifierExtension.create(this.certificate),
      ],
    });
    return { key: this.leafKey, cert: `${made.toString('pem')}\n${this.pem}` };
  }

  /** The same as a context of TLS, made once for the same names. */
  contextFor(names: readonly string[], isExpired: boolean): Promise<SecureContext> {
    const key = `${isExpired} ${names.join(' ')}`;
    const known = this.contexts.get(key) ?? this.issue(names, isExpired).then(createSecureContext);
    this.contexts.set(key, known);
    return known;
  }
}

function newKeys(): Promise<webcrypto.CryptoKeyPair> {
  return webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify']);
}

/** 63 bits, so that no two certificates of an authority have the same. Source: RFC 5280 4.1.2.2. */
function serial(): string {
  const octets = webcrypto.getRandomValues(new Uint8Array(8));
  octets[0] = ((octets[0] ?? 0) & 0x7f) | 0x40;
  return Buffer.from(octets).toString('hex');
}

function generalName(value: string): JsonGeneralName {
  return parseAddress(value).ok ? { type: 'ip', value } : { type: 'dns', value };
}
