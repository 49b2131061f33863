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
import { LRUCache } from 'lru-cache';
import { codeOf } from '@wide-lattice/core/naming';
import type { NameOutcome, Resolution } from '@wide-lattice/core/naming';
import { byId, USUAL_BYTES } from '@wide-lattice/core/plan';
import { ask } from '@wide-lattice/core/request';
import { storedName } from '@wide-lattice/core/zones';
import type { AnyType, Rr } from '@wide-lattice/core/zones';
import { LIMITS, LOOPBACK } from '../limits.js';
import { closed, listening } from '../listening.js';
import type { World } from '../world.js';
import { typeOf, wireRecord } from './wire.js';

/** Octets of an answer over UDP where the question says nothing of its room. Source: RFC 1035 4.2.1. */
const PLAIN_BYTES = 512;
/** The most that is sent over UDP: common practice since 2020, so that no packet is broken up. */
const MOST_BYTES = 1232;

/** The bits that say what is asked for, which an answer repeats. Source: RFC 1035 4.1.1. */
const OPCODE = 0x7800;

/** The option that says why. Source: RFC 8914 2. */
const EXTENDED_ERROR = 15;

/** How each ending is answered; a question that finds no answer gets none. Sources: RFC 1035 4.1.1, RFC 2308 2, RFC 8914 4. */
const endings: Readonly<Record<NameOutcome, { readonly rcode: number; readonly info: number } | undefined>> = {
  answer: { rcode: 0, info: 0 },
  'no data': { rcode: 0, info: 0 },
  'no name': { rcode: 3, info: 0 },
  failure: { rcode: 2, info: 0 },
  outside: undefined,
  'time-out': undefined,
};

interface Told {
  readonly rcode: number;
  readonly answers: readonly Answer[];
  readonly authorities: readonly Answer[];
  readonly info: number;
  readonly why: string;
}

/** DNS over UDP and TCP at one port of loopback, as somebody at a viewpoint of the plan is answered. */
export class NameServer {
  private readonly known = new LRUCache<string, { readonly told: Told | undefined; readonly log: string }>({
    max: LIMITS.answers,
  });
  private version = 0;

  private constructor(
    private readonly world: World,
    private readonly viewpoint: string,
    private readonly udp: Socket,
    private readonly tcp: Server,
  ) {
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
  static async at(port: number, world: World, viewpoint: string): Promise<NameServer> {
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
    return new NameServer(world, viewpoint, udp, tcp);
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
    const told = packet.type === 'response' ? undefined : this.toldOf(packet);
    if (told === undefined) return undefined;
    const room = roomFor(packet, isUdp);
    const whole = answerTo(packet, told, 0);
    if (whole.length <= room) return whole;
    const short = answerTo(packet, { ...told, why: '' }, 0);
    return short.length <= room
      ? short
      : answerTo(packet, { ...told, answers: [], authorities: [], why: '' }, TRUNCATED_RESPONSE);
  }

  private toldOf(packet: Packet & { readonly opcode?: string }): Told | undefined {
    const [question, ...more] = packet.questions ?? [];
    const fault = (rcode: number, why: string): Told => ({ rcode, answers: [], authorities: [], info: 0, why });
    if (packet.opcode !== undefined && packet.opcode !== 'QUERY') return fault(4, '');
    if (question === undefined || more.length > 0) return fault(1, '');
    if ((question.class ?? 'IN') !== 'IN') return fault(5, '');
    const label = this.world.viewpoint(this.viewpoint)?.label;
    if (label === undefined) return fault(5, 'The viewpoint is no longer in the plan.');
    if (this.version !== this.world.version) {
      this.known.clear();
      this.version = this.world.version;
    }
    const key = `${question.type} ${question.name}`;
    const known = this.known.get(key) ?? this.asked(question.name, question.type);
    this.known.set(key, known);
    const { told } = known;
    this.world.log.note(label, `${question.name} ${question.type} (DNS)`, known.log, told?.why ?? '');
    return told;
  }

  private asked(name: string, wireType: string): { readonly told: Told | undefined; readonly log: string } {
    const { world } = this;
    const viewpoint = world.viewpoint(this.viewpoint);
    const { type, number } = typeOf(wireType);
    if (viewpoint === undefined) return { told: undefined, log: 'time-out' };
    const answer = ask(world.state, {
      from: viewpoint.place,
      to: { kind: 'name', name: name === '.' ? name : `${storedName(name)}.`, type },
      bytes: USUAL_BYTES,
    });
    const { resolution } = answer;
    if (resolution === undefined || answer.verdict === 'unknown')
      return { told: { ...unsaid, why: answer.sentence }, log: codeOf.outside };
    const ending = endings[resolution.outcome];
    const log = codeOf[resolution.outcome];
    if (ending === undefined) return { told: undefined, log };
    const records = resolution.records.flatMap((record) => wireRecord(record, number) ?? []);
    return {
      told: {
        ...ending,
        answers: records.filter((each) => each.type !== 'SOA' || type === 'SOA'),
        authorities: resolution.outcome === 'answer' ? [] : this.authority(resolution, name, type),
        why: answer.sentence,
      },
      log,
    };
  }

  /** The SOA beside a negative answer, so that it can be remembered. Source: RFC 2308 3. */
  private authority({ subject, outcome, ttl }: Resolution, name: string, type: AnyType): Answer[] {
    if (outcome !== 'no data' && outcome !== 'no name') return [];
    const { names } = this.world.state;
    const zone = subject?.kind === 'zones' ? byId(names.parts.zones, subject.id) : names.zoneAround(name);
    const [soa] = zone === undefined || type === 'SOA' ? [] : names.treeOf(zone).setAt(zone.apex, 'SOA');
    const own: Rr | undefined = soa === undefined ? undefined : { ...soa, ttl };
    return own === undefined ? [] : [wireRecord(own, undefined)].flatMap((each) => each ?? []);
  }
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
      AUTHORITATIVE_ANSWER |
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
const unsaid = { rcode: 5, answers: [], authorities: [], info: 20 } as const;

function extendedError({ info, why }: Told): Buffer {
  const code = Buffer.alloc(2);
  code.writeUInt16BE(info);
  return Buffer.concat([code, Buffer.from(why)]);
}
