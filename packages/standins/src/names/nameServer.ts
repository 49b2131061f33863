import { createSocket } from 'node:dgram';
import type { Socket } from 'node:dgram';
import { createServer } from 'node:net';
import type { Server } from 'node:net';
import {
  AUTHORITATIVE_ANSWER,
  decode,
  encode,
  RECURSION_AVAILABLE,
  RECURSION_DESIRED,
  TRUNCATED_RESPONSE,
} from 'dns-packet';
import type { Answer, Packet } from 'dns-packet';
import { codeOf } from '@wide-lattice/core/naming';
import type { NameOutcome, Resolution } from '@wide-lattice/core/naming';
import { byId, USUAL_BYTES } from '@wide-lattice/core/plan';
import { ask } from '@wide-lattice/core/request';
import { storedName, typesByNumber } from '@wide-lattice/core/zones';
import { LIMITS, LOOPBACK } from '../limits.js';
import { closed, listening } from '../listening.js';
import { Remembered } from '../remembered.js';
import { VANTAGE_GONE } from '../vantages.js';
import type { Vantage } from '../vantages.js';
import type { World } from '../world.js';
import { numberOf, wireRecord } from './wire.js';

/** Octets of an answer over UDP where the question says nothing of its room. Source: RFC 1035 4.2.1. */
const PLAIN_BYTES = 512;
/** The most that is sent over UDP: common practice since 2020, so that no packet is broken up. */
const MOST_BYTES = 1232;

/** The bits that say what is asked for, which an answer repeats. Source: RFC 1035 4.1.1. */
const OPCODE = 0x7800;

/** The option that says why. Source: RFC 8914 2. */
const EXTENDED_ERROR = 15;

// Source: RFC 1035 4.1.1.
const FORM_ERROR = 1;
const SERVER_FAILURE = 2;
const NO_SUCH_NAME = 3;
const NOT_IMPLEMENTED = 4;
const REFUSED = 5;

/** Numbers of questions that ask for no one type: all of them, a transfer, a signature. Source: RFC 6895 3.1. */
const FIRST_META = 128;
const LAST_META = 255;
const SOA_NUMBER = 6;

/** How each ending is answered; a question that finds no answer gets none. Sources: RFC 1035 4.1.1, RFC 2308 2. */
const rcodes: Readonly<Record<NameOutcome, number | undefined>> = {
  answer: 0,
  'no data': 0,
  'no name': NO_SUCH_NAME,
  failure: SERVER_FAILURE,
  outside: REFUSED,
  'time-out': undefined,
};

interface Told {
  readonly rcode: number;
  readonly answers: readonly Answer[];
  readonly authorities: readonly Answer[];
  readonly info: number;
  readonly why: string;
}

/** DNS over UDP and TCP at one port of loopback, as a vantage of the plan is answered. */
export class NameServer {
  private readonly known: Remembered<Known>;

  private constructor(
    private readonly world: World,
    private readonly vantage: string,
    private readonly udp: Socket,
    private readonly tcp: Server,
  ) {
    this.known = new Remembered(world);
    udp.on('message', (message, { port, address }) => {
      const answer = this.answered(message, true);
      if (answer !== undefined) udp.send(answer, port, address);
    });
    udp.on('error', () => undefined);
    tcp.maxConnections = LIMITS.connections;
    tcp.on('connection', (socket) => {
      let held = Buffer.alloc(0);
      socket.on('error', () => socket.destroy());
      socket.setTimeout(10_000, () => socket.destroy());
      socket.on('data', (chunk) => {
        held = Buffer.concat([held, chunk]);
        while (held.length >= 2 && held.length >= 2 + held.readUInt16BE()) {
          const length = held.readUInt16BE();
          const answer = this.answered(held.subarray(2, 2 + length), false);
          held = held.subarray(2 + length);
          if (answer === undefined) continue;
          const size = Buffer.alloc(2);
          size.writeUInt16BE(answer.length);
          socket.write(Buffer.concat([size, answer]));
        }
      });
    });
  }

  /** Errors: the port is in use. */
  static async at(port: number, world: World, vantage: string): Promise<NameServer> {
    const udp = createSocket('udp4');
    const tcp = createServer();
    await new Promise<void>((resolve, reject) => {
      udp.once('error', reject);
      udp.bind(port, LOOPBACK, () => {
        udp.off('error', reject);
        resolve();
      });
    });
    try {
      await listening(tcp, port);
    } catch (error) {
      udp.close();
      throw error;
    }
    return new NameServer(world, vantage, udp, tcp);
  }

  async stop(): Promise<void> {
    this.udp.close();
    await closed(this.tcp);
  }

  /** The answer to one message; undefined where none is sent. */
  private answered(message: Buffer, isUdp: boolean): Buffer | undefined {
    let packet: Packet & { readonly opcode?: string };
    try {
      packet = decode(message);
    } catch {
      // What is no message at all is not answered; of one whose header can be read the rest has a fault of form.
      return message.length < 12 || (message.readUInt8(2) & 0x80) !== 0
        ? undefined
        : encode({ type: 'response', id: message.readUInt16BE(), flags: 1 });
    }
    if (packet.type === 'response') return undefined;
    try {
      const told = this.toldOf(packet);
      return told === undefined ? undefined : inRoom(packet, told, roomFor(packet, isUdp));
    } catch (error) {
      // One question that fails must not end the others.
      this.world.log.note('', 'a DNS message', 'SERVFAIL', String(error));
      return answerTo(packet, fault(SERVER_FAILURE), 0);
    }
  }

  private toldOf(packet: Packet & { readonly opcode?: string }): Told | undefined {
    const [question, ...more] = packet.questions ?? [];
    if (packet.opcode !== undefined && packet.opcode !== 'QUERY') return fault(NOT_IMPLEMENTED);
    if (question === undefined || more.length > 0) return fault(FORM_ERROR);
    if ((question.class ?? 'IN') !== 'IN') return fault(REFUSED);
    const number = numberOf(question);
    if (number >= FIRST_META && number <= LAST_META) return fault(NOT_IMPLEMENTED);
    const vantage = this.world.vantage(this.vantage);
    if (vantage === undefined) return { ...unsaid, why: VANTAGE_GONE };
    const { told, log, why } = this.known.of(`${number} ${question.name}`, () =>
      this.asked(vantage, question.name, number),
    );
    this.world.log.note(vantage.label, `${question.name} ${question.type} (DNS)`, log, why);
    return told;
  }

  private asked(vantage: Vantage, asked: string, number: number): Known {
    const name = asked === '.' ? asked : `${storedName(asked)}.`;
    const to = { kind: 'name', name, type: typesByNumber[number] ?? 'other' } as const;
    const { resolution, verdict, sentence } = ask(this.world.state, { from: vantage.place, to, bytes: USUAL_BYTES });
    if (resolution === undefined || verdict === 'unknown')
      return { told: { ...unsaid, why: sentence }, log: codeOf.outside, why: sentence };
    const { outcome, records, ttl } = resolution;
    const rcode = rcodes[outcome];
    const log = codeOf[outcome];
    if (rcode === undefined) return { told: undefined, log, why: sentence };
    const answers = records.flatMap((record) => wireRecord(record, number) ?? []);
    // Of types without a form of their own the plan may hold others than the one that was asked for.
    const isNegative = outcome === 'no data' || outcome === 'no name' || answers.length === 0;
    const authorities = isNegative ? this.authority(resolution, ttl) : [];
    return { told: { rcode, answers, authorities, info: 0, why: sentence }, log, why: sentence };
  }

  /** The SOA of the zone that answers beside a negative answer, so that it can be remembered; none where no zone of the plan does. Source: RFC 2308 3. */
  private authority({ subject }: Resolution, ttl: number): Answer[] {
    const { names } = this.world.state;
    const zone = subject?.kind === 'zones' ? byId(names.parts.zones, subject.id) : undefined;
    const [soa] = zone === undefined ? [] : names.treeOf(zone).setAt(zone.apex, 'SOA');
    return soa === undefined ? [] : [wireRecord({ ...soa, ttl }, SOA_NUMBER) ?? []].flat();
  }
}

interface Known {
  /** Undefined where nothing is answered. */
  readonly told: Told | undefined;
  readonly log: string;
  readonly why: string;
}

function fault(rcode: number): Told {
  return { rcode, answers: [], authorities: [], info: 0, why: '' };
}

/** The answer with its reason where there is room for it, else without; what is too long even so is cut off. Source: RFC 2181 9. */
function inRoom(packet: Packet, told: Told, room: number): Buffer {
  const whole = answerTo(packet, told, 0);
  if (whole.length <= room) return whole;
  const short = answerTo(packet, { ...told, why: '' }, 0);
  return short.length <= room
    ? short
    : answerTo(packet, { ...told, answers: [], authorities: [], why: '' }, TRUNCATED_RESPONSE);
}

/** Octets that an answer may have. Source: RFC 6891 6.2.5 for questions that say so. */
function roomFor(packet: Packet, isUdp: boolean): number {
  if (!isUdp) return 65_535;
  const edns = ednsOf(packet);
  return edns === undefined ? PLAIN_BYTES : Math.min(MOST_BYTES, Math.max(PLAIN_BYTES, edns.udpPayloadSize));
}

function ednsOf({ additionals }: Packet) {
  return additionals?.find((each) => each.type === 'OPT');
}

function answerTo(packet: Packet, told: Told, flags: number): Buffer {
  const edns = ednsOf(packet);
  const isOldEdns = edns !== undefined && edns.ednsVersion > 0;
  const option = {
    type: 'OPT',
    name: '.',
    udpPayloadSize: MOST_BYTES,
    // BADVERS. Source: RFC 6891 6.1.3.
    extendedRcode: isOldEdns ? 1 : 0,
    ednsVersion: 0,
    flags: 0,
    flag_do: false,
    options: told.why === '' ? [] : [{ code: EXTENDED_ERROR, data: extendedError(told) }],
  };
  return encode({
    type: 'response',
    id: packet.id ?? 0,
    flags:
      (told.rcode === 0 || told.rcode === NO_SUCH_NAME ? AUTHORITATIVE_ANSWER : 0) |
      RECURSION_AVAILABLE |
      ((packet.flags ?? 0) & (RECURSION_DESIRED | OPCODE)) |
      flags |
      (isOldEdns ? 0 : told.rcode),
    questions: packet.questions ?? [],
    answers: isOldEdns ? [] : [...told.answers],
    authorities: isOldEdns ? [] : [...told.authorities],
    // The library’s types do not list the option’s code.
    additionals: edns === undefined ? [] : [option as unknown as Answer],
  });
}

/** What the plan does not say is not for this server to answer. Source: RFC 8914 4.21. */
const unsaid = { rcode: REFUSED, answers: [], authorities: [], info: 20 } as const;

function extendedError({ info, why }: Told): Buffer {
  const code = Buffer.alloc(2);
  code.writeUInt16BE(info);
  return Buffer.concat([code, Buffer.from(why)]);
}
