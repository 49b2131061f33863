import { section } from '../section/index.js';
import { rangesByCluster } from '../sizing/index.js';
import { Forwarding } from './forwarding.js';
import { forwardingReads, rangesIn } from './forwardingParts.js';

/** How packets are forwarded: compiled network by network when it is asked, and after an edit taken over where nothing changed. */
export const forwarding = section({
  name: 'forwarding',
  reads: forwardingReads,
  needs: { ranges: rangesByCluster },
  build: (parts, { ranges }) => new Forwarding(parts, rangesIn(ranges)),
  follow: (last, parts, { ranges }) => {
    const next = new Forwarding(parts, rangesIn(ranges), last.value);
    last.value.release();
    return next;
  },
});
