import type { UrlTarget } from '../plan/index.js';
import type { Subject } from '../road/index.js';
import { certifies } from '../zones/index.js';
import type { RequestProgress } from './requestProgress.js';

/** The certificate by which TLS is answered: it has to cover the host. */
export function certified(
  way: RequestProgress,
  { host }: UrlTarget,
  at: string,
  certificate: string,
  names: readonly string[],
  subject: Subject,
): void {
  if (certificate === '' && names.length === 0)
    throw way.stop('broken', undefined, 'certificate', `${at} has no certificate: no TLS connection is made.`, subject);
  if (!certifies(names, host))
    throw way.stop(
      'refused',
      undefined,
      'certificate',
      [
        `${host} is not on the certificate ${certificate} of ${lowered(at)}${names.length === 0 ? ', whose names are not entered' : `, which covers ${names.slice(0, 3).join(', ')}${names.length > 3 ? ' and others' : ''}`}:`,
        'clients refuse it.',
      ].join(' '),
      subject,
    );
  way.stage('certificate', 'ok', `The certificate ${certificate} covers ${host}.`, subject);
}

function lowered(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
