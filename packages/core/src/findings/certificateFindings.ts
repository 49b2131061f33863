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
      title: `${label(certificate, state)} ended on ${end}`,
      detail: renewsItself
        ? 'It should have renewed itself. Enter the day from which the present one is valid, or find out why it did not.'
        : 'Clients refuse it. Replace it, and enter the day from which the new one is valid.',
    }),
  ];
}

function renewal(certificate: Certificate, state: NameState): Finding[] {
  const { id, renewDays, renewsItself } = certificate;
  const end = certificateEnd(certificate);
  const subjects = [{ kind: 'certificates', id }] as const;
  if (renewDays === 0)
    return [
      finding('certificate.renewal', 'error', subjects, {
        title: `${label(certificate, state)} ends on ${end} before it is renewed`,
        detail:
          'No day is left between its renewal and its end: any delay breaks every listener that uses it. Renew it days before.',
      }),
    ];
  if (!renewsItself && renewDays < BY_HAND)
    return [
      finding('certificate.renewal', 'warning', subjects, {
        title: `${label(certificate, state)} is renewed by hand ${renewDays} days before its end`,
        detail: `It ends on ${end}. Two weeks are usual where somebody has to do it; or let it renew itself.`,
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
      finding('certificate.caa', 'error', [{ kind: 'certificates', id }], {
        title: `${label(certificate, state)}: ${issuerDomain} may not issue for ${name}`,
        detail: [
          `The CAA records at ${at} allow ${issuers.length === 0 ? 'no issuer' : issuers.join(', ')} (RFC 8659).`,
          `Add 0 ${name.startsWith('*.') ? 'issuewild' : 'issue'} "${issuerDomain}" there, or have another issue it.`,
        ].join(' '),
        part: `${id} ${name}`,
      }),
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
      {
        title: `${label(certificate, state)} is used for different hosts and lacks ${missing.join(', ')}`,
        detail: `${[...new Set(uses.map(({ what }) => what))].join(' and ')} use one secret. Put all their names on it, or give each a certificate of its own.`,
        part: certificate.id,
      },
    ),
  ];
}
