import 'reflect-metadata';
import { webcrypto, X509Certificate } from 'node:crypto';
import fc from 'fast-check';
import { certifies } from '../zones/index.js';

// RFC 9525 6.3: the wildcard is the whole left-most label and stands for exactly one.
test.each([
  [['a.example'], 'a.example', true],
  [['*.example.test'], 'a.example.test', true],
  [['*.example.test'], 'a.b.example.test', false],
  [['*.example.test'], 'example.test', false],
  [['A.Example'], 'a.example', true],
])('%p for %s: %p', (names, host, covers) => {
  expect(certifies(names, host)).toBe(covers);
});

test('names on certificates of a standard library are matched as Node’s own checkHost matches them', async () => {
  // The library is loaded here alone, since it wants decorators’ metadata first.
  const x509 = await import('@peculiar/x509');
  x509.cryptoProvider.set(webcrypto as Crypto);
  const algorithm = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };
  const keys = await webcrypto.subtle.generateKey(algorithm, true, ['sign', 'verify']);
  const label = fc.constantFrom('a', 'b', 'web', 'x-1');
  const host = fc.array(label, { minLength: 1, maxLength: 3 }).map((labels) => [...labels, 'one', 'test'].join('.'));
  const onIt = fc.tuple(fc.constantFrom('', '', '*.'), host).map(([star, name]) => `${star}${name}`);
  const cases = fc.sample(
    fc.tuple(fc.uniqueArray(onIt, { minLength: 1, maxLength: 4 }), fc.array(host, { minLength: 10, maxLength: 10 })),
    { seed: 20_261_126, numRuns: 60 },
  );
  let covered = 0;
  for (const [names, hosts] of cases) {
    const made = await x509.X509CertificateGenerator.createSelfSigned({
      serialNumber: '01',
      name: 'CN=test',
      notBefore: new Date('2026-01-01'),
      notAfter: new Date('2027-01-01'),
      signingAlgorithm: algorithm,
      keys,
      extensions: [new x509.SubjectAlternativeNameExtension(names.map((value) => ({ type: 'dns' as const, value })))],
    });
    const certificate = new X509Certificate(Buffer.from(made.rawData));
    for (const each of hosts) {
      const theirs = certificate.checkHost(each) !== undefined;
      covered += Number(theirs);
      expect([names, each, certifies(names, each)]).toEqual([names, each, theirs]);
    }
  }
  expect(covered).toBeGreaterThan(20);
});
