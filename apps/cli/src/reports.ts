import type { DescribedFinding, Severity } from '@wide-lattice/core/findings';
import { create } from 'xmlbuilder2';

const levels: Readonly<Record<Severity, 'error' | 'warning' | 'note'>> = {
  error: 'error',
  warning: 'warning',
  note: 'note',
};

/**
 * Findings as JUnit XML: a test case each, of which errors fail. Form: as many build servers read it (common practice; there is
 * no published standard).
 */
export function junitOf(name: string, findings: readonly DescribedFinding[]): string {
  const errors = findings.filter(({ severity }) => severity === 'error').length;
  const suite = create({ version: '1.0', encoding: 'UTF-8' })
    .ele('testsuites', { name: 'wide-lattice check', tests: findings.length, failures: errors })
    .ele('testsuite', { name, tests: findings.length, failures: errors });
  for (const { code, severity, title, detail, chain } of findings) {
    const test = suite.ele('testcase', { classname: code, name: title });
    const text = [detail, ...chain].join('\n');
    if (severity === 'error') test.ele('failure', { type: code, message: title }).txt(text);
    else test.ele('system-out').txt(`${severity}: ${text}`);
  }
  return `${suite.doc().end({ prettyPrint: true })}\n`;
}

/** Findings in the Static Analysis Results Interchange Format (OASIS SARIF 2.1.0): rules are the codes of findings. */
export function sarifOf(findings: readonly DescribedFinding[]): object {
  const codes = [...new Set(findings.map(({ code }) => code))].sort();
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Wide Lattice', rules: codes.map((id) => ({ id })) } },
        results: findings.map(({ code, severity, title, detail, chain, subjects, key }) => ({
          ruleId: code,
          ruleIndex: codes.indexOf(code),
          level: levels[severity],
          message: { text: [title, detail, ...chain].join('\n') },
          partialFingerprints: { finding: key },
          locations: [
            {
              logicalLocations: subjects.map(({ kind, id }) => ({ fullyQualifiedName: `${kind}/${id}`, kind })),
            },
          ],
        })),
      },
    ],
  };
}
