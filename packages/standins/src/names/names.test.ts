import { demoPlan } from '@wide-lattice/core/demo';
import { IngressState } from '@wide-lattice/core/ingress';
import { recordedNames } from '@wide-lattice/core/naming';
import type { NameOutcome } from '@wide-lattice/core/naming';
import { USUAL_BYTES } from '@wide-lattice/core/plan';
import type { DnsRecord, Plan } from '@wide-lattice/core/plan';
import { ask } from '@wide-lattice/core/request';
import { readValue } from '@wide-lattice/core/zones';
import { add, applied, ground, testId } from '../../../core/test/worlds.js';
import { run, started } from '../../test/started.js';
import type { Started } from '../../test/started.js';
import { vantageOf } from '../vantages.js';

/** What dig read of an answer. */
interface Dug {
  readonly status: string;
  /** "name ttl type value" of each record, in capitals as dig writes them. */
  readonly answers: readonly string[];
  readonly authority: readonly string[];
  readonly text: string;
}

async function dig(port: number, ...asked: readonly string[]): Promise<Dug> {
  const { output } = await run('dig', [
    '@127.0.0.1',
    '-p',
    String(port),
    '+time=60',
    '+tries=1',
    '+nosearch',
    ...asked,
  ]);
  const section = (name: string) =>
    (new RegExp(`;; ${name} SECTION:\\n([\\s\\S]*?)\\n\\n`).exec(output)?.[1] ?? '')
      .split('\n')
      .filter((line) => line !== '' && !line.startsWith(';'))
      .map((line) => line.replace(/\s+/g, ' '));
  return {
    status: /status: (\w+)/.exec(output)?.[1] ?? 'none',
    answers: section('ANSWER'),
    authority: section('AUTHORITY'),
    text: output,
  };
}

/** One public zone with records. */
function zoneWith(...records: readonly Partial<DnsRecord>[]): Plan {
  return applied(ground(1), [
    ...add('zones', {
      name: 'one',
      apex: 'one.test',
      side: 'public',
      isDelegated: true,
      nameServers: ['ns.one.test'],
    }),
    ...add(
      'records',
      ...records.map((each) => ({ zoneId: testId('zones', 1), ttl: 77, target: 'elsewhere' as const, ...each })),
    ),
  ]);
}

let open: Started | undefined;
afterEach(async () => {
  await open?.stop();
  open = undefined;
});

async function serve(plan: Plan, ...vantages: readonly string[]): Promise<readonly number[]> {
  open = await started(plan, { vantages, clusters: [] });
  return open.standIns.report().names.map(({ port }) => port);
}

test('dig reads a record of every type as the plan has it', async () => {
  const records: Partial<DnsRecord>[] = [
    { name: 'a', type: 'A', value: '192.0.2.7' },
    { name: 'six', type: 'AAAA', value: '2001:db8::7' },
    { name: 'also', type: 'CNAME', value: 'a.one.test.' },
    { name: 'words', type: 'TXT', value: String.raw`"two; words" "and \"more\""` },
    { name: '_web._tcp', type: 'SRV', value: '1 2 443 a.one.test.' },
    { name: 'caa', type: 'CAA', value: '128 issue "ca.example"' },
    { name: 'post', type: 'MX', value: '10 a.one.test.' },
    { name: 'back', type: 'PTR', value: 'a.one.test.' },
    { name: 'moved', type: 'DNAME', value: 'two.test.' },
    { name: 'key', type: 'SSHFP', value: '4 2 123456789ABCDEF67890123456789ABCDEF67890123456789ABCDEF123456789' },
    { name: 'host', type: 'HINFO', value: '"ARM" "LINUX"' },
    { name: 'call', type: 'NAPTR', value: '100 10 "u" "sip+E2U" "!^.*$!sip:info@one.test!" .' },
    { name: 'web', type: 'HTTPS', value: '1 . alpn="h2,h3" port=8443 ipv4hint=192.0.2.7 ipv6hint=2001:db8::7' },
    { name: 'alias', type: 'HTTPS', value: '0 a.one.test.' },
    { name: 'bind', type: 'SVCB', value: '2 a.one.test. mandatory=port port=53' },
    { name: 'own', type: 'other', value: String.raw`TYPE65280 \# 4 0A000001` },
    { name: '*.wild', type: 'A', value: '192.0.2.8' },
  ];
  const byNumber = { name: '_443._tcp', type: 'other', value: String.raw`TYPE52 \# 7 03010112345678` } as const;
  const [port = 0] = await serve(zoneWith(...records, byNumber), 'internet');
  const wrong: unknown[] = [];
  for (const { name = '', type = 'A', value = '' } of records) {
    const asked = `${name.replace('*', 'any')}.one.test`;
    const { answers, text } = await dig(port, asked, '-t', type === 'other' ? (value.split(' ')[0] ?? '') : type);
    const [own = '', ttl, , shown, ...said] = (answers[0] ?? '').split(' ');
    // What dig reads is read as a value of the plan once more: two ways of writing one value are one.
    const read = readValue(type, type === 'other' ? `${shown ?? ''} ${said.join(' ')}` : said.join(' '));
    const meant = readValue(type, value);
    if (own !== `${asked}.` || ttl !== '77' || !read.ok || !meant.ok || read.value.value !== meant.value.value)
      wrong.push({ type, value, said, text });
  }
  expect(wrong).toEqual([]);
  // A type that only its number names here is one that dig has a form for: RFC 6698 2.2.
  const tlsa = await dig(port, '_443._tcp.one.test', 'TLSA');
  expect(tlsa.answers).toEqual(['_443._tcp.one.test. 77 IN TLSA 3 1 1 12345678']);
  // Below a DNAME the name that is asked becomes an alias: RFC 6672 2.2.
  const below = await dig(port, 'x.moved.one.test', 'CNAME');
  expect(below.answers).toEqual(['x.moved.one.test. 77 IN CNAME x.two.test.']);
});

test('how questions end is told as the standards have it', async () => {
  const [port = 0] = await serve(zoneWith({ name: 'a', type: 'A', value: '192.0.2.7' }), 'internet');
  // RFC 2308 2.1 and 2.2: with the SOA beside it, whose TTL is the smaller of its own and its last field.
  const none = await dig(port, 'b.one.test', 'A');
  expect([none.status, none.answers.length, none.authority.length]).toEqual(['NXDOMAIN', 0, 1]);
  expect(none.authority[0]).toMatch(/^one\.test\. 300 IN SOA ns\.one\.test\. /);
  const empty = await dig(port, 'a.one.test', 'MX');
  expect([empty.status, empty.answers.length, empty.authority.length]).toEqual(['NOERROR', 0, 1]);
  // RFC 8914 4.21: a zone that is not the plan's is not this server's to answer, and says so.
  const other = await dig(port, 'a.elsewhere.test', 'A');
  expect([other.status, other.text.includes('EDE: 20 (Not Authoritative)')]).toEqual(['REFUSED', true]);
  // RFC 6891 6.1.3: a version of EDNS to come.
  expect((await dig(port, 'a.one.test', 'A', '+edns=5', '+noednsnegotiation')).status).toBe('BADVERS');
  // RFC 4343 4: names are alike in any case, and the question comes back as it was asked.
  const mixed = await dig(port, 'A.oNe.TEST', 'A');
  expect([mixed.answers, mixed.text.includes(';A.oNe.TEST.')]).toEqual([['a.one.test. 77 IN A 192.0.2.7'], true]);
  // RFC 1035 4.1.1: what is no query is not implemented.
  expect((await dig(port, 'a.one.test', 'A', '+opcode=status')).status).toBe('NOTIMP');
  // RFC 6895 3.1: what asks for no one type is not implemented, rather than denied.
  expect((await dig(port, 'a.one.test', 'ANY', '+notcp')).status).toBe('NOTIMP');
  expect((await dig(port, '-c', 'CH', 'a.one.test', 'TXT')).status).toBe('REFUSED');
});

// RFC 2308 3: the SOA is of the zone that answers. What ends outside the zones that are seen from there has none of theirs.
test('beside what no zone of the plan denies there is no SOA of one', async () => {
  const plan = demoPlan();
  const network = plan.networks.find(({ name }) => name === 'booking')?.id ?? '';
  const [internet = 0, booking = 0] = await serve(plan, 'internet', network);
  // An alias of skerryline.example whose target, a provider’s name, does not exist.
  const freed = await dig(internet, 'summer.skerryline.example', 'A');
  expect([freed.status, freed.answers.length, freed.authority]).toEqual(['NXDOMAIN', 1, []]);
  // The zone 255.43.10.in-addr.arpa is of another network.
  const back = await dig(booking, '20.255.43.10.in-addr.arpa', 'PTR');
  expect([back.status, back.authority]).toEqual(['NXDOMAIN', []]);
  expect((await dig(booking, 'none.models.skerryline.example', 'A')).authority[0]).toMatch(/^models\./);
});

test('a question that is not answered leaves its reason in the log', async () => {
  const plan = demoPlan();
  const north = plan.clusters.find(({ name }) => name === 'booking-north')?.id ?? '';
  const [port = 0] = await serve(plan, north);
  const { status } = await dig(port, 'storefront.shop', 'A', '+time=1');
  expect(status).toBe('none');
  expect(open?.standIns.report().log[0]).toMatchObject({
    answer: 'time-out',
    why: expect.stringContaining('storefront'),
  });
});

test('hard cases of names, each derived from its standard before it was asked', async () => {
  const [port = 0] = await serve(
    zoneWith(
      { name: '*.w', type: 'A', value: '192.0.2.1' },
      { name: 'host.w', type: 'TXT', value: '"there"' },
      { name: 'deep.under', type: 'A', value: '192.0.2.2' },
      { name: 'to-host', type: 'CNAME', value: 'host.one.test.' },
      { name: 'host', type: 'MX', value: '5 host.one.test.' },
      { name: 'to-none', type: 'CNAME', value: 'none.one.test.' },
      { name: 'x', type: 'CNAME', value: 'y.one.test.' },
      { name: 'y', type: 'CNAME', value: 'x.one.test.' },
      { name: 'set', type: 'A', value: '192.0.2.3', ttl: 300 },
      { name: 'set', type: 'A', value: '192.0.2.4', ttl: 30 },
    ),
    'internet',
  );
  const said = async (...asked: readonly string[]) => {
    const { status, answers } = await dig(port, ...asked);
    return [status, ...[...answers].sort()];
  };
  // RFC 4592 2.2.1: what exists blocks the wildcard for itself and for what is below it.
  expect(await said('host.w.one.test', 'A')).toEqual(['NOERROR']);
  expect(await said('a.host.w.one.test', 'A')).toEqual(['NXDOMAIN']);
  expect(await said('a.b.w.one.test', 'A')).toEqual(['NOERROR', 'a.b.w.one.test. 77 IN A 192.0.2.1']);
  // RFC 4592 2.2.2: a name between two exists without records.
  expect(await said('under.one.test', 'A')).toEqual(['NOERROR']);
  // RFC 1034 3.6.2: an alias holds for every type.
  expect(await said('to-host.one.test', 'MX')).toEqual([
    'NOERROR',
    'host.one.test. 77 IN MX 5 host.one.test.',
    'to-host.one.test. 77 IN CNAME host.one.test.',
  ]);
  // RFC 6604 3: the code is that of the last name, and the alias is told.
  expect(await said('to-none.one.test', 'A')).toEqual(['NXDOMAIN', 'to-none.one.test. 77 IN CNAME none.one.test.']);
  // RFC 1034 3.6.2: aliases in a circle are an error.
  expect((await said('x.one.test', 'A'))[0]).toBe('SERVFAIL');
  // RFC 2181 5.2: all records of a set have one TTL, the lowest.
  expect(await said('set.one.test', 'A')).toEqual([
    'NOERROR',
    'set.one.test. 30 IN A 192.0.2.3',
    'set.one.test. 30 IN A 192.0.2.4',
  ]);
});

test('an answer that is too long over UDP is cut, and whole over TCP', async () => {
  const many = Array.from({ length: 60 }, (_, at) => ({ name: 'many', type: 'A', value: `192.0.2.${at}` }) as const);
  const [port = 0] = await serve(zoneWith(...many), 'internet');
  // RFC 1035 4.2.1 and RFC 2181 9: of 512 octets, with the sign of truncation, which a client asks again for.
  const cut = await dig(port, 'many.one.test', 'A', '+noedns', '+ignore');
  expect([/flags:[^;]* tc/.test(cut.text), cut.answers.length]).toEqual([true, 0]);
  expect((await dig(port, 'many.one.test', 'A', '+noedns')).answers).toHaveLength(60);
  expect((await dig(port, 'many.one.test', 'A', '+tcp')).answers).toHaveLength(60);
});

test('messages that are no questions end nothing', async () => {
  const [port = 0] = await serve(zoneWith({ name: 'a', type: 'A', value: '192.0.2.7' }), 'internet');
  const { createSocket } = await import('node:dgram');
  const socket = createSocket('udp4');
  for (const junk of ['', 'x', '\0'.repeat(12), '\xff'.repeat(40), `\0\0\x01\0\0\x01${'\0'.repeat(6)}\x3fa`])
    await new Promise((resolve) => {
      socket.send(Buffer.from(junk, 'latin1'), port, '127.0.0.1', resolve);
    });
  socket.close();
  expect((await dig(port, 'a.one.test', 'A')).answers).toHaveLength(1);
});

/** How each ending looks to dig. */
const statuses: Readonly<Record<NameOutcome, string>> = {
  answer: 'NOERROR',
  'no data': 'NOERROR',
  'no name': 'NXDOMAIN',
  failure: 'SERVFAIL',
  outside: 'REFUSED',
  'time-out': 'none',
};

test('every recorded name of the demo is answered as the question bar answers it, wherever it is asked', async () => {
  const plan = demoPlan();
  const state = IngressState.of(plan);
  const keys = ['internet', ...plan.networks.map(({ id }) => id)].filter(
    (key) => vantageOf(state, plan, key) !== undefined,
  );
  const ports = await serve(plan, ...keys);
  const names = recordedNames(state.names);
  const wrong: unknown[] = [];
  let answered = 0;
  for (const [at, key] of keys.entries()) {
    const from = vantageOf(state, plan, key)?.place ?? { kind: 'internet' };
    for (const name of names) {
      const to = { kind: 'name', name: `${name}.`, type: 'A' } as const;
      const { resolution } = ask(state, { from, to, bytes: USUAL_BYTES });
      // Only where no answer is meant to come is it not waited for: a busy machine is slow, not wrong.
      const patience = resolution?.outcome === 'time-out' ? ['+time=1'] : [];
      const dug = await dig(ports[at] ?? 0, name, 'A', ...patience);
      const meant = resolution?.records.map((each) => each.value).sort() ?? [];
      const said = dug.answers.map((line) => (line.split(' ').at(-1) ?? '').replace(/\.$/, '')).sort();
      answered += said.length;
      if (dug.status !== statuses[resolution?.outcome ?? 'outside'] || String(said) !== String(meant))
        wrong.push({ key, name, meant, said, status: dug.status });
    }
  }
  expect(wrong).toEqual([]);
  expect(answered).toBeGreaterThan(20);
});
