import { cover } from '../../address/index.js';
import { addressSpan } from '../addressSpan.js';
import type { KindRules } from './rules.js';
import type { Reservation } from './reservations.js';

export const reservationsRules: KindRules<Reservation> = {
  label: ({ name }) => name,
  about: ({ count, first }) => `${count === 1 ? '1 address' : `${count} addresses`} from ${first}`,
  holds: {
    prefixes: (reservation) => {
      const { first, last } = addressSpan(reservation);
      return cover(first, last);
    },
    called: ({ name }) => `reservation ${name}`,
  },
};
