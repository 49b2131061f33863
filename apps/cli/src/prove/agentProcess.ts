import { spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import type { Answer, Probe, Probed } from './agent.js';

// Tests read the sources; processes run what was built.
const AGENT = fileURLToPath(
  new URL(import.meta.url.endsWith('.ts') ? '../../dist/prove/agent.js' : './agent.js', import.meta.url),
);

/** A process inside a namespace that listens and sends. */
export class Agent {
  private readonly waiting = new Map<number, (answer: Answer | undefined) => void>();
  private next = 0;

  private constructor(private readonly child: ChildProcess) {}

  static start(
    namespace: string,
    space: string,
    addresses: readonly string[],
    ports: readonly number[],
  ): Promise<Agent> {
    const child = spawn(
      'ip',
      ['netns', 'exec', namespace, process.execPath, AGENT, space, addresses.join(','), ports.join(',')],
      { stdio: ['pipe', 'pipe', 'inherit'] },
    );
    const agent = new Agent(child);
    return new Promise((resolve, reject) => {
      child.on('error', reject);
      createInterface({ input: child.stdout as NodeJS.ReadableStream }).on('line', (line) => {
        const { id, answer } = JSON.parse(line) as Probed;
        if (id === -1) resolve(agent);
        agent.waiting.get(id)?.(answer);
        agent.waiting.delete(id);
      });
    });
  }

  send(probe: Omit<Probe, 'id'>): Promise<Answer | undefined> {
    const id = this.next++;
    return new Promise((resolve) => {
      this.waiting.set(id, resolve);
      this.child.stdin?.write(`${JSON.stringify({ id, ...probe })}\n`);
    });
  }

  end(): void {
    this.child.stdin?.end();
    this.child.kill();
  }
}
