import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** Where the chain of an entry point is broken. */
export type EntryPointLack =
  | {
      readonly code:
        | 'no-certificate'
        | 'no-names'
        | 'no-backend'
        | 'controller.no-service'
        | 'route.no-service'
        | 'no-class'
        | 'no-listener'
        | 'no-pods'
        | 'no-replicas'
        | 'none-ready';
    }
  | { readonly code: 'backend.no-service'; readonly backend: string }
  | { readonly code: 'no-port'; readonly port: number; readonly service: string }
  | { readonly code: 'service-gone'; readonly service: string }
  | { readonly code: 'no-controller'; readonly className: string }
  | { readonly code: 'outside'; readonly name: string }
  | { readonly code: 'deaf'; readonly workload: string };

/** What is missing where a chain is broken, and what mends it. */
export function formatEntryPointLack(lack: EntryPointLack): string {
  return formatByCode(words, lack);
}

const words: Words<EntryPointLack, string, []> = {
  'no-certificate': () => 'It has no certificate. Name one that covers its hosts.',
  'no-names': () => 'The names on its certificate are not entered.',
  'no-backend': () => 'It forwards to no backend yet. Name one.',
  'controller.no-service': () => 'The controller names no service of its own. Name it.',
  'route.no-service': () => 'It sends to no service. Name one.',
  'no-class': () => 'Its route names no class or gateway.',
  'no-listener': () => 'What feeds its controller has no listener yet.',
  'no-pods': () => 'It selects no pods. Run a workload with its labels.',
  'no-replicas': () => 'It runs no pods.',
  'none-ready': () => 'None of its pods is ready.',
  'backend.no-service': ({ backend }) => `The backend ${backend} names no service yet.`,
  'no-port': ({ port, service }) => `Its backend calls port ${port}, which ${service} does not have.`,
  'service-gone': ({ service }) => `The service ${service} does not exist. Add it, or name another.`,
  'no-controller': ({ className }) => `No controller implements the class ${className}.`,
  outside: ({ name }) => `It stands for ${name}, outside the cluster.`,
  deaf: ({ workload }) => `${workload} does not listen on what it asks for.`,
};
