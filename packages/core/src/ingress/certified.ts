import type { UrlTarget } from '../plan/index.js';
import type { Subject } from '../road/index.js';
import { certifies } from '../zones/index.js';
import type { RequestProgress } from './requestProgress.js';

/** The certificate by which TLS is answered: it has to cover the host. One whose names nobody entered may or may not. */
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
  if (names.length === 0)
    throw way.stop(
      'unknown',
      undefined,
      'certificate',
      `The names on the certificate ${certificate} of ${lowered(at)} are not entered: whether clients accept it for ${host} is not known.`,
      subject,
    );
  if (!certifies(names, host))
    throw way.stop(
      'refused',
      undefined,
      'certificate',
      [
        `${host} is not on the certificate ${certificate} of ${lowered(at)}, which covers ${names.slice(0, 3).join(', ')}${names.length > 3 ? ' and others' : ''}:`,
        'clients refuse it.',
      ].join(' '),
      subject,
    );
  way.stage('certificate', 'ok', `The certificate ${certificate} covers ${host}.`, subject);
}

function lowered(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
