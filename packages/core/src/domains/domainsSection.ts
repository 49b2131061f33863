import { section } from '../section/index.js';
import { Domains } from './domains.js';

/** Who can send to whom. */
export const domains = section({
  name: 'domains',
  reads: ['networks', 'links', 'attachments'],
  needs: {},
  build: ({ networks, links, attachments }) => new Domains(networks, links, attachments),
});
