import { prefix } from '../address/index.js';
import { withFallbacks } from '../plan/index.js';
import type { Attachment, Link } from '../plan/index.js';
import { Domains } from './index.js';

const networks = ['a', 'b', 'c', 'd', 'e'].map((id) => withFallbacks('networks', { id, name: id }));
const link = (id: string, kind: Link['kind'], networkIds: string[], isPlanned = false) =>
  withFallbacks('links', { id, name: id, kind, networkIds, isPlanned });
const attachment = (linkId: string, networkId: string, fields: Partial<Attachment>) =>
  withFallbacks('attachments', { id: `${linkId}${networkId}`, linkId, networkId, ...fields });
const way = (domains: Domains, from: string, to: string, range?: string) =>
  domains.join(from, to, range === undefined ? undefined : prefix(range))?.hops.map(({ link: by }) => by.id);

describe('without attachments', () => {
  const domains = new Domains(networks, [
    link('hub', 'hub', ['a', 'b', 'c']),
    link('peer', 'peering', ['c', 'd']),
    link('later', 'peering', ['a', 'd'], true),
    link('also', 'tunnel', ['a', 'b'], true),
  ]);

  test('a network reaches itself, its peers and its hub, and no further', () => {
    expect(way(domains, 'a', 'a')).toEqual([]);
    expect(way(domains, 'a', 'c')).toEqual(['hub']);
    expect(way(domains, 'b', 'd')).toBeUndefined();
    expect(way(domains, 'e', 'a')).toBeUndefined();
    expect(domains.neighbours('c')).toEqual(['a', 'b', 'd']);
  });

  test('a link that stands is named before a planned one', () => {
    expect(domains.join('a', 'b')).toMatchObject({ isPlanned: false });
    expect(domains.join('a', 'd')).toMatchObject({ isPlanned: true });
    expect(domains.meeting('a', 'd', prefix('10.0.0.0/8'))).toMatchObject({ vantageId: 'c', isPlanned: false });
  });
});

describe('with attachments', () => {
  const domains = new Domains(
    networks,
    [link('hub', 'hub', ['a', 'b', 'c']), link('far', 'circuit', ['c', 'd']), link('on', 'tunnel', ['d', 'e'])],
    [
      attachment('hub', 'c', { advertises: ['10.1.0.0/16', '10.4.0.0/16'] }),
      attachment('far', 'd', { advertises: ['10.4.0.0/16', '10.5.0.0/16'] }),
      attachment('hub', 'b', { accepts: 'listed', acceptsFromIds: ['a'] }),
    ],
  );

  test('only what is told is reached, and for a part of it only that part', () => {
    expect(way(domains, 'a', 'c', '10.1.2.0/24')).toEqual(['hub']);
    expect(way(domains, 'a', 'c', '10.0.0.0/8')).toEqual(['hub']);
    expect(way(domains, 'a', 'c', '10.9.0.0/16')).toBeUndefined();
  });

  test('what a network in between lists is passed on, link by link', () => {
    expect(way(domains, 'a', 'd', '10.4.0.0/24')).toEqual(['hub', 'far']);
    expect(way(domains, 'a', 'd', '10.5.0.0/24')).toBeUndefined();
    // c learns 10.5 from d, and d has it from e by its own tunnel.
    expect(way(domains, 'c', 'e', '10.5.0.0/24')).toEqual(['far', 'on']);
  });

  test('a side that learns from a list takes nothing from others', () => {
    expect(way(domains, 'b', 'a', '10.0.0.0/8')).toEqual(['hub']);
    expect(way(domains, 'b', 'c', '10.1.0.0/24')).toBeUndefined();
  });

  test('two meet only where the parts of the range that are carried overlap', () => {
    const [first, second] = ['10.0.0.0/25', '10.0.0.128/25'];
    const parts = (mine: string, theirs: string) =>
      new Domains(
        networks,
        [link('hub', 'hub', ['a', 'b', 'c'])],
        [attachment('hub', 'a', { advertises: [mine] }), attachment('hub', 'b', { advertises: [theirs] })],
      ).meeting('a', 'b', prefix('10.0.0.0/24'));
    expect(parts(first, first)?.vantageId).toBe('a');
    // Each still has its own whole range at home, where it also sees the part the other tells.
    expect(parts(first, second)?.vantageId).toBe('a');
    expect(domains.advertised(link('x', 'hub', []), 'a')).toBeUndefined();
  });
});
