/** What stand-ins may take of a machine. Each is told where it is met. */
export const LIMITS = {
  /** TCP ports that the stand-ins of one plan listen at; DNS takes the same number over UDP. */
  ports: 200,
  /** Minutes after which stand-ins end by themselves: a day. */
  minutes: 1440,
  /** Seconds that health checks may take to find that a member stopped. */
  healthSeconds: 300,
  /** Connections that one port has at once. */
  connections: 200,
  /** Octets of a request’s body that are read and thrown away; a longer one ends the connection. */
  bodyBytes: 1_000_000,
  /** Answers, clients and certificates that one port remembers, of each. */
  remembered: 2000,
  /** Lines of the log that are kept. */
  logLines: 500,
  /** Changes of objects that a watch can go back to. */
  watched: 1000,
  /** Megabytes of memory beside the application. */
  memoryMb: 1024,
} as const;

/** Minutes that stand-ins run while nothing else is said. */
export const USUAL_MINUTES = 120;
/** Seconds until health checks find that a member stopped, while nothing else is said: a check each 5 s, two in a row (common practice). */
export const USUAL_HEALTH_SECONDS = 10;
/** The first port while nothing else is said. */
export const USUAL_FIRST_PORT = 21_000;
/** The only address that stand-ins listen at. */
export const LOOPBACK = '127.0.0.1';
