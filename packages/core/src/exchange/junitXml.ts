import XMLBuilder from 'fast-xml-builder';

type Attributes = Readonly<Record<string, string | number>>;

/** One test case: it passes where nothing else is said. */
export interface JunitCase {
  readonly attributes: Attributes;
  readonly failure?: { readonly type: string; readonly message: string; readonly text?: string };
  /** Why it was not run. */
  readonly skipped?: string;
  readonly output?: string;
}

/** Suites of test cases with their counts. */
export interface JunitReport {
  readonly attributes: Attributes;
  readonly suites: readonly { readonly attributes: Attributes; readonly cases: readonly JunitCase[] }[];
}

const builder = new XMLBuilder({ ignoreAttributes: false, format: true, suppressEmptyNode: true });

const attributed = (attributes: Attributes) =>
  Object.fromEntries(Object.entries(attributes).map(([name, value]) => [`@_${name}`, plain(String(value))]));

/** Without what no XML document may hold. Source: XML 1.0, 2.2. */
function plain(text: string): string {
  return Array.from(text)
    .filter((each) => {
      const code = each.codePointAt(0) ?? 0;
      return (code >= 0x20 || each === '\n' || each === '\t' || each === '\r') && code !== 0xfffe && code !== 0xffff;
    })
    .join('');
}

/** JUnit XML as many build servers read it (common practice; there is no published standard). */
export function junitXml({ attributes, suites }: JunitReport): string {
  return builder.build({
    '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' },
    testsuites: {
      ...attributed(attributes),
      testsuite: suites.map((suite) => ({ ...attributed(suite.attributes), testcase: suite.cases.map(caseOf) })),
    },
  });
}

function caseOf({ attributes, failure, skipped, output }: JunitCase): object {
  return {
    ...attributed(attributes),
    ...(failure === undefined
      ? {}
      : {
          failure: {
            ...attributed({ type: failure.type, message: failure.message }),
            ...(failure.text === undefined ? {} : { '#text': plain(failure.text) }),
          },
        }),
    ...(skipped === undefined ? {} : { skipped: attributed({ message: skipped }) }),
    ...(output === undefined ? {} : { 'system-out': plain(output) }),
  };
}
