import { execFileSync, spawnSync } from 'node:child_process';
import { efficiency, encapsulations, largestPacket, segmentSize } from './index.js';

// Handbook 5; sources: RFC 7348, 8926, 2003, 2473, 2784; WireGuard from memory of the protocol paper.
test.each([
  ['vxlan', 4, 1450],
  ['vxlan', 6, 1430],
  ['geneve', 4, 1450],
  ['ipip', 4, 1480],
  ['ipip', 6, 1460],
  ['gre', 4, 1476],
  ['gre', 6, 1456],
  ['wireguard', 4, 1440],
  ['wireguard', 6, 1420],
  ['none', 6, 1500],
  // RFC 4303, 4106, 3948: the values of handbook 5, computed there by hand.
  ['esp-gcm', 4, 1446],
  ['esp-gcm-nat', 4, 1438],
  ['esp-cbc', 4, 1438],
  ['esp-cbc-nat', 4, 1422],
] as const)('%s over IPv%d: %d of 1500 bytes', (layer, outer, inner) => {
  expect(largestPacket(1500, [layer], outer).value).toBe(inner);
});

test('ESP: the packet that fits, built byte by byte, and one byte more does not', () => {
  for (const layer of ['esp-gcm', 'esp-gcm-nat', 'esp-cbc', 'esp-cbc-nat'] as const) {
    const { overheadIpv4, trailer, alignment } = encapsulations[layer];
    const onWire = (inner: number) => {
      let padded = inner;
      while ((padded + 2) % alignment !== 0) padded++;
      return overheadIpv4 + padded + 2 + trailer;
    };
    for (let mtu = 1280; mtu < 1520; mtu++) {
      const { value } = largestPacket(mtu, [layer]);
      expect(onWire(value)).toBeLessThanOrEqual(mtu);
      expect(onWire(value + 1)).toBeGreaterThan(mtu);
    }
  }
});

test('layers stack, and never below nothing', () => {
  expect(largestPacket(1500, ['esp-gcm', 'vxlan']).value).toBe(1396);
  expect(largestPacket(60, ['vxlan', 'vxlan']).value).toBe(0);
  expect(largestPacket(1500, ['vxlan']).explain().steps).toEqual(['VXLAN: 1,450 bytes inside']);
});

test('MSS (RFC 9293, RFC 8200) and efficiency (IEEE 802.3): 94.9 %, 91.7 % with VXLAN, 99.1 % at 9000', () => {
  expect(segmentSize(1500, 4).value).toBe(1460);
  expect(segmentSize(1500, 6).value).toBe(1440);
  expect(efficiency(1500, 1460).value).toBe(94.9);
  expect(efficiency(1500, 1410).value).toBe(91.7);
  expect(efficiency(9000, 8960).value).toBe(99.1);
});

describe('the Linux kernel as reference', () => {
  const name = `wl${process.pid}`;
  const ip = (...args: string[]) => execFileSync('ip', args, { stdio: ['ignore', 'pipe', 'pipe'], encoding: 'utf8' });
  const isAllowed = () => {
    const made = spawnSync('ip', ['netns', 'add', `${name}-try`], { stdio: 'ignore' });
    spawnSync('ip', ['netns', 'del', `${name}-try`], { stdio: 'ignore' });
    return made.status === 0;
  };

  test('a VXLAN device takes the MTU we say, and ping with the do-not-fragment bit passes exactly that', () => {
    if (!isAllowed()) {
      // Loud on purpose: this reference is missing where network namespaces are not allowed.
      process.stderr.write('\nSKIPPED: VXLAN against the Linux kernel needs the right to make network namespaces.\n');
      return;
    }
    const [a, b] = [`${name}a`, `${name}b`];
    try {
      for (const ns of [a, b]) ip('netns', 'add', ns);
      ip('link', 'add', `${name}v0`, 'netns', a, 'type', 'veth', 'peer', 'name', `${name}v1`, 'netns', b);
      for (const [ns, device, own, other, inside] of [
        [a, `${name}v0`, '192.0.2.1', '192.0.2.2', '198.51.100.1'],
        [b, `${name}v1`, '192.0.2.2', '192.0.2.1', '198.51.100.2'],
      ] as const) {
        ip('-n', ns, 'addr', 'add', `${own}/24`, 'dev', device);
        ip('-n', ns, 'link', 'set', device, 'up');
        ip(
          '-n',
          ns,
          'link',
          'add',
          'vx',
          'type',
          'vxlan',
          'id',
          '7',
          'remote',
          other,
          'dstport',
          '4789',
          'dev',
          device,
        );
        ip('-n', ns, 'addr', 'add', `${inside}/24`, 'dev', 'vx');
        ip('-n', ns, 'link', 'set', 'vx', 'up');
      }
      const expected = largestPacket(1500, ['vxlan']).value;
      expect(ip('-n', a, 'link', 'show', 'vx')).toContain(`mtu ${expected} `);
      // An ICMP echo is 28 bytes of headers and its payload.
      const passes = (packet: number) =>
        spawnSync('ip', [
          'netns',
          'exec',
          a,
          'ping',
          '-c',
          '1',
          '-W',
          '3',
          '-M',
          'do',
          '-s',
          String(packet - 28),
          '198.51.100.2',
        ]).status === 0;
      if (spawnSync('ping', ['-V']).error !== undefined) {
        process.stderr.write(
          '\nSKIPPED: the largest packet against the Linux kernel needs ping (Debian: iputils-ping).\n',
        );
        return;
      }
      expect(passes(expected)).toBe(true);
      expect(passes(expected + 1)).toBe(false);
    } finally {
      for (const ns of [a, b]) spawnSync('ip', ['netns', 'del', ns], { stdio: 'ignore' });
    }
  });
});
