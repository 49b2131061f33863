import { encode } from 'dns-packet';
import type { Answer, Question, RecordType as WireType } from 'dns-packet';
import { addressBytes, parseAddress } from '@wide-lattice/core/address';
import { octetParts } from '@wide-lattice/core/zones';
import type { Rr } from '@wide-lattice/core/zones';

/** The type of a question as a number: the message library names some types and numbers others. */
export function numberOf(question: Question): number {
  const message = encode({ questions: [question] });
  // Type and class stand behind the name, two octets each. Source: RFC 1035 4.1.2.
  return message.readUInt16BE(message.length - 4);
}

/** A record as it goes over the wire; undefined where it is of another number than was asked. */
export function wireRecord(record: Rr, number: number): Answer | undefined {
  const { name, ttl, type } = record;
  if (type === 'HTTPS' || type === 'SVCB')
    return raw(name, ttl, type === 'HTTPS' ? 65 : 64, serviceBinding(record.value));
  if (type !== 'other') return { name, ttl, class: 'IN', type, data: dataOf(record) } as Answer;
  const [of = '', , , ...octets] = record.value.split(' ');
  const own = Number(of.slice('TYPE'.length));
  return number === own ? raw(name, ttl, own, Buffer.from(octets.join(''), 'hex')) : undefined;
}

function raw(name: string, ttl: number, number: number, data: Buffer): Answer {
  // The library encodes what it has no form for as it is; its types do not list such numbers.
  return { name, ttl, class: 'IN', type: `UNKNOWN_${number}` as WireType, data } as Answer;
}

function dataOf({ type, value }: Rr): unknown {
  const parts = octetParts(type, value).map((part) => Buffer.from(part));
  const word = (at: number) => parts[at]?.toString('latin1') ?? '';
  const count = (at: number) => Number(word(at));
  // The root stands as a dot.
  const named = (at: number) => (word(at) === '.' ? '' : word(at));
  switch (type) {
    case 'TXT':
      return parts;
    case 'MX':
      return { preference: count(0), exchange: named(1) };
    case 'SRV':
      return { priority: count(0), weight: count(1), port: count(2), target: named(3) };
    case 'CAA':
      return { flags: count(0), tag: word(1), value: word(2), issuerCritical: (count(0) & 128) !== 0 };
    case 'DS':
      return {
        keyTag: count(0),
        algorithm: count(1),
        digestType: count(2),
        digest: Buffer.from(word(3), 'hex'),
      };
    case 'SSHFP':
      return { algorithm: count(0), hash: count(1), fingerprint: word(2) };
    case 'NAPTR':
      return {
        order: count(0),
        preference: count(1),
        flags: word(2),
        services: word(3),
        regexp: word(4),
        replacement: named(5),
      };
    case 'HINFO':
      return { cpu: word(0), os: word(1) };
    case 'SOA':
      return {
        mname: named(0),
        rname: named(1),
        serial: count(2),
        refresh: count(3),
        retry: count(4),
        expire: count(5),
        minimum: count(6),
      };
    default:
      return named(0);
  }
}

/** Keys of a service binding by their numbers. Source: RFC 9460 14.3.2. */
const keys = ['mandatory', 'alpn', 'no-default-alpn', 'port', 'ipv4hint', 'ech', 'ipv6hint'] as const;

/** A service binding as octets: priority, target, and parameters in the order of their numbers. Source: RFC 9460 2.2. */
function serviceBinding(value: string): Buffer {
  const [priority = '0', target = '.', ...words] = value.split(/ (?=(?:[^"]*"[^"]*")*[^"]*$)/);
  const params = words
    .map((word) => {
      const [, key = '', , quoted, plain] = /^([a-z0-9-]+)(=(?:"(.*)"|(.*)))?$/s.exec(word) ?? [];
      return { number: keyNumber(key), value: paramValue(key, quoted ?? plain ?? '') };
    })
    .sort((a, b) => a.number - b.number);
  const head = Buffer.alloc(2);
  head.writeUInt16BE(Number(priority));
  return Buffer.concat([
    head,
    nameOctets(target === '.' ? '' : target),
    ...params.flatMap(({ number, value: octets }) => {
      const header = Buffer.alloc(4);
      header.writeUInt16BE(number);
      header.writeUInt16BE(octets.length, 2);
      return [header, octets];
    }),
  ]);
}

/** A name as labels with their lengths. Source: RFC 1035 3.1. */
function nameOctets(name: string): Buffer {
  const labels = name === '' ? [] : name.split('.').map((label) => Buffer.from(label));
  return Buffer.concat([...labels.flatMap((label) => [Buffer.from([label.length]), label]), Buffer.from([0])]);
}

function keyNumber(key: string): number {
  const at = keys.findIndex((each) => each === key);
  return at >= 0 ? at : Number(key.slice('key'.length));
}

function paramValue(key: string, text: string): Buffer {
  const list = () => text.split(',').filter(Boolean);
  const number = (value: number) => Buffer.from([value >> 8, value & 255]);
  switch (key) {
    case 'mandatory':
      return Buffer.concat(
        list()
          .map(keyNumber)
          .sort((a, b) => a - b)
          .map(number),
      );
    case 'alpn':
      return Buffer.concat(list().map((each) => Buffer.concat([Buffer.from([each.length]), Buffer.from(each)])));
    case 'port':
      return number(Number(text));
    case 'ipv4hint':
    case 'ipv6hint':
      return Buffer.concat(list().map((each) => addressOctets(each)));
    case 'ech':
      return Buffer.from(text, 'base64');
    default:
      return Buffer.from(text);
  }
}

function addressOctets(text: string): Buffer {
  const parsed = parseAddress(text);
  return parsed.ok ? Buffer.from(addressBytes(parsed.value)) : Buffer.alloc(0);
}
