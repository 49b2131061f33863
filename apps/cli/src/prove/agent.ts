import { createSocket } from 'node:dgram';
import { connect, createServer, isIPv6 } from 'node:net';
import { createInterface } from 'node:readline';

/** One packet to send: the agent answers with what the far end saw. */
export interface Probe {
  readonly id: number;
  readonly protocol: 'tcp' | 'udp';
  readonly from: string;
  readonly to: string;
  readonly port: number;
  /** Size of the IP packet, headers included; for UDP only. */
  readonly bytes: number;
  /** Whether a small packet and its answer go first, so that lists and devices know the flow. */
  readonly opensSmall?: boolean;
}

/** The source that the far end saw, and which namespace answered: one address can mean two machines. */
export interface Answer {
  readonly seen: string;
  readonly by: string;
}

/** What became of a probe. */
export interface Probed {
  readonly id: number;
  readonly answer: Answer | undefined;
}

/** How long an answer may take; everything is on one machine. */
const WAIT_MS = 900;
/** IP and UDP headers. */
const headersOf = (address: string) => (isIPv6(address) ? 48 : 28);

/** Listens at addresses and ports as the command line says, and sends the probes that come on standard input. */
function main([space = '', addresses = '', ports = '']: readonly string[]): void {
  for (const port of ports.split(',').map(Number)) {
    createServer((socket) => {
      socket.on('error', () => undefined);
      socket.once('data', () => socket.end(`${(socket.remoteAddress ?? '').replace('::ffff:', '')} ${space}\n`));
    }).listen(port, '::');
    for (const address of addresses.split(',')) {
      const socket = createSocket(isIPv6(address) ? 'udp6' : 'udp4');
      socket.on('error', () => undefined);
      socket.on('message', (_, from) => socket.send(`${from.address} ${space}\n`, from.port, from.address));
      socket.bind(port, address);
    }
  }
  createInterface({ input: process.stdin }).on('line', (line) => {
    const probe = JSON.parse(line) as Probe;
    const send = probe.protocol === 'tcp' ? overTcp : overUdp;
    void send(probe).then((text) => {
      const [seen = '', by = ''] = text?.split(' ') ?? [];
      const probed: Probed = { id: probe.id, answer: text === undefined ? undefined : { seen, by } };
      process.stdout.write(`${JSON.stringify(probed)}\n`);
    });
  });
  process.stdin.on('end', () => process.exit(0));
  process.stdout.write('{"id":-1}\n');
}

function overTcp({ from, to, port }: Probe): Promise<string | undefined> {
  return new Promise((resolve) => {
    const socket = connect({ host: to, port, localAddress: from });
    const end = (seen: string | undefined) => {
      clearTimeout(timer);
      socket.destroy();
      resolve(seen);
    };
    const timer = setTimeout(() => end(undefined), WAIT_MS);
    socket.on('error', () => end(undefined));
    // The connection must carry data both ways: a firewall that sees one direction only lets the first packet pass.
    socket.on('connect', () => socket.write('who am I\n'));
    socket.once('data', (data) => end(data.toString().trim()));
  });
}

function overUdp({ from, to, port, bytes, opensSmall = false }: Probe): Promise<string | undefined> {
  return new Promise((resolve) => {
    const socket = createSocket(isIPv6(to) ? 'udp6' : 'udp4');
    const end = (seen: string | undefined) => {
      clearTimeout(timer);
      socket.close();
      resolve(seen);
    };
    let timer = setTimeout(() => end(undefined), WAIT_MS);
    let isOpening = opensSmall;
    const send = (size: number) => socket.send(Buffer.alloc(Math.max(1, size - headersOf(to))));
    socket.on('error', () => end(undefined));
    socket.on('message', (data) => {
      if (!isOpening) {
        end(data.toString().trim());
        return;
      }
      isOpening = false;
      clearTimeout(timer);
      timer = setTimeout(() => end(undefined), WAIT_MS);
      send(bytes);
    });
    // A connected socket takes answers from whom it asked alone; the first packet is sent whole, with the do-not-fragment bit.
    socket.bind(0, from, () => socket.connect(port, to, () => send(isOpening ? 0 : bytes)));
  });
}

main(process.argv.slice(2));
