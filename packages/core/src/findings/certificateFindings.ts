import { caaOf, certificateEnd, thisDay, usesOf } from '../naming/index.js';
import type { NameState } from '../naming/index.js';
import { certifies } from '../zones/index.js';
import { byId, kindRules } from '../plan/index.js';
import type { Certificate, Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

interface Needed {
  readonly naming: NameState;
}

/** Days that somebody needs who renews a certificate by hand: common practice. */
const BY_HAND = 14;

/** Certificates that end before they are renewed, that no issuer may issue, or that hosts share which it does not cover. */
export function certificateFindings(_: unknown, { naming }: Needed): readonly Finding[] {
  return naming.parts.certificates.flatMap((certificate) => [
    ...expired(certificate, naming),
    ...renewal(certificate, naming),
    ...forbidden(certificate, naming),
    ...shared(certificate, naming),
  ]);
}

function label(certificate: Certificate, { parts }: NameState): string {
  // Its label reads names of the plan alone.
  const name = kindRules('certificates').label(certificate, parts as Plan);
  const cluster = byId(parts.clusters, certificate.clusterId ?? '');
  return cluster === undefined ? name : `${cluster.name}: ${name}`;
}

/** By hand it has to be replaced; one that renews itself is no longer what the plan says of it. */
function expired(certificate: Certificate, state: NameState): Finding[] {
  const { id, renewsItself } = certificate;
  const end = certificateEnd(certificate);
  if (end > thisDay()) return [];
  return [
    finding('certificate.expired', renewsItself ? 'warning' : 'error', [{ kind: 'certificates', id }], {
      certificate: label(certificate, state),
      end,
      renewsItself,
    }),
  ];
}

function renewal(certificate: Certificate, state: NameState): Finding[] {
  const { id, renewDays, renewsItself } = certificate;
  const end = certificateEnd(certificate);
  const subjects = [{ kind: 'certificates', id }] as const;
  if (renewDays === 0)
    return [finding('certificate.renewal', 'error', subjects, { certificate: label(certificate, state), end })];
  if (!renewsItself && renewDays < BY_HAND)
    return [
      finding('certificate.renewal:by-hand', 'warning', subjects, {
        certificate: label(certificate, state),
        end,
        days: renewDays,
      }),
    ];
  return [];
}

function forbidden(certificate: Certificate, state: NameState): Finding[] {
  const { id, names, issuerKind, issuerDomain } = certificate;
  if (issuerKind === 'private' || issuerDomain === '') return [];
  return names.flatMap((name): Finding[] => {
    const { at, issuers } = caaOf(state, name.toLowerCase());
    if (at === undefined || issuers.includes(issuerDomain)) return [];
    return [
      finding(
        'certificate.caa',
        'error',
        [{ kind: 'certificates', id }],
        { certificate: label(certificate, state), issuer: issuerDomain, name, at, allowed: issuers },
        { part: `${id} ${name}` },
      ),
    ];
  });
}

/** One secret for hosts of several places, some of which are not on it. */
function shared(certificate: Certificate, state: NameState): Finding[] {
  const uses = usesOf(state.parts, certificate).filter(({ hosts }) => hosts.length > 0);
  const sets = new Set(uses.map(({ hosts }) => [...hosts].sort().join(' ')));
  const missing = [...new Set(uses.flatMap(({ hosts }) => hosts))].filter(
    (host) => !certifies(certificate.names, host.toLowerCase()),
  );
  if (sets.size < 2 || missing.length === 0) return [];
  return [
    finding(
      'certificate.shared',
      'warning',
      [{ kind: 'certificates', id: certificate.id }, ...uses.map(({ subject }) => subject)],
      { certificate: label(certificate, state), missing, users: [...new Set(uses.map(({ what }) => what))] },
      { part: certificate.id },
    ),
  ];
}
