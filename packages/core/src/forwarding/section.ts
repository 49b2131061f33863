import { section } from '../section/index.js';
import { rangesByCluster } from '../sizing/index.js';
import { Forwarding, forwardingReads } from './forwarding.js';

const none: readonly never[] = [];

/** How packets are forwarded: compiled network by network when it is asked, and after an edit taken over where nothing changed. */
export const forwarding = section({
  name: 'forwarding',
  reads: forwardingReads,
  needs: { ranges: rangesByCluster },
  build: (parts, { ranges }) => new Forwarding(parts, (id) => ranges.get(id) ?? none),
  follow: (last, parts, { ranges }) => {
    const next = new Forwarding(parts, (id) => ranges.get(id) ?? none, last.value);
    last.value.release();
    return next;
  },
});
