import type { Server, Socket } from 'node:net';
import { LOOPBACK } from './limits.js';

const open = new WeakMap<Server, Set<Socket>>();

/** Has a server listen at a port of loopback. Errors: the port is in use. */
export function listening(server: Server, port: number): Promise<void> {
  const sockets = new Set<Socket>();
  open.set(server, sockets);
  server.on('connection', (socket) => {
    sockets.add(socket);
    socket.once('close', () => sockets.delete(socket));
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, LOOPBACK, () => {
      server.off('error', reject);
      resolve();
    });
  });
}

/** Ends a server with all its connections. */
export function closed(server: Server): Promise<void> {
  return new Promise((resolve) => {
    server.close(() => {
      resolve();
    });
    for (const socket of open.get(server) ?? []) socket.destroy();
  });
}
