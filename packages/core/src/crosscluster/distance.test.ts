import distance from '@turf/distance';
import { geoDistance } from 'd3-geo';
import fc from 'fast-check';
import { greatCircle, latencyFloor, roundTripMs, streamMbps } from './distance.js';

const anyPoint = fc.record({
  latitude: fc.double({ min: -90, max: 90, noNaN: true }),
  longitude: fc.double({ min: -180, max: 180, noNaN: true }),
});

test('great circles as two libraries of others say, between any two places', () => {
  fc.assert(
    fc.property(anyPoint, anyPoint, (a, b) => {
      const km = greatCircle(a, b);
      const at = ({ latitude, longitude }: typeof a): [number, number] => [longitude, latitude];
      // The first gives the angle; the radius is that of IUGG 1980, as the docstring says.
      expect(km).toBeCloseTo(geoDistance(at(a), at(b)) * 6371.0088, 3);
      // The second has its own radius, 6371.0088 km, and its own formula.
      expect(km).toBeCloseTo(distance(at(a), at(b), { units: 'kilometers' }), 3);
    }),
    { numRuns: 2000 },
  );
});

test('a quarter of the equator, and the poles: derived by hand', () => {
  const quarter = (Math.PI / 2) * 6371.0088;
  expect(greatCircle({ latitude: 0, longitude: 0 }, { latitude: 0, longitude: 90 })).toBeCloseTo(quarter, 6);
  expect(greatCircle({ latitude: 90, longitude: 17 }, { latitude: -90, longitude: 120 })).toBeCloseTo(2 * quarter, 6);
  expect(greatCircle({ latitude: 5, longitude: 5 }, { latitude: 5, longitude: 5 })).toBe(0);
});

test('light in fibre takes about 1 ms for 100 km there and back (handbook 10)', () => {
  expect(roundTripMs(102)).toBe(1);
  const floor = latencyFloor(
    { name: 'a', at: { latitude: 0, longitude: 0 } },
    { name: 'b', at: { latitude: 0, longitude: 90 } },
  );
  // 10,007.56 km: 2 × 10,007.56 ÷ 204,000 s.
  expect(floor.value).toBe(98.11);
  expect(floor.explain().steps.join(' ')).toContain('10,008 km');
});

test('one TCP stream carries at most a window each round trip (RFC 9293 3.8.6)', () => {
  // 65,535 bytes, the largest window without scaling (RFC 9293 3.1), over 100 ms: 65,535 × 8 ÷ 0.1 s = 5.24 Mbit/s.
  expect(streamMbps(65_535, 100).value).toBe(5.2);
  expect(streamMbps(4_194_304, 10).value).toBe(3355.4);
});
