import { spawnSync } from 'node:child_process';

/** Runs a command; gives what it prints, and throws with what it said when it fails. */
export function run(command: string, args: readonly string[], input = ''): string {
  const { status, stdout, stderr } = spawnSync(command, args, { input, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')}: ${stderr.trim()}\n${input}`);
  return stdout;
}

/** Whether network namespaces with filters can be made here; what is missing otherwise. */
export function whyNot(): string | undefined {
  if (process.getuid?.() !== 0) return 'it must run as root';
  for (const command of ['ip', 'nft'])
    if (spawnSync(command, ['-V']).error !== undefined) return `the command ${command} is not there`;
  const name = `wl-try-${process.pid}`;
  if (spawnSync('ip', ['netns', 'add', name]).status !== 0) return 'network namespaces are not allowed';
  const filter = spawnSync('ip', ['netns', 'exec', name, 'nft', 'add', 'table', 'inet', 'wl'], { encoding: 'utf8' });
  spawnSync('ip', ['netns', 'del', name]);
  return filter.status === 0 ? undefined : 'packet filters are not allowed in network namespaces';
}
