#!/usr/bin/env node
import { readFileSync } from 'node:fs';
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { readPlanFile } from '@wide-lattice/core/exchange';
import { USUAL_BYTES } from '@wide-lattice/core/plan';
import { check, convert, difference, proposal, severities, table, tested, traced } from './commands.js';
import { completionOf } from './completion.js';
import { merge } from './merge.js';
import { handover } from './handover.js';
import type { HandoverOptions } from './handover.js';
import type { ReportForm, Outcome, TestForm } from './commands.js';
import { provePlan, proveRandom } from './prove/command.js';
import { SUITE } from './prove/coverage.js';
import { serve } from './serve.js';
import type { ServeOptions } from './serve.js';

interface CheckWish {
  readonly as: ReportForm;
  readonly base?: string;
  readonly failOn: (typeof severities)[number];
}

/** The text of a file, or why it cannot be read. */
function textOf(file: string): string | Outcome {
  try {
    return readFileSync(file === '-' ? 0 : file, 'utf8');
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    return { exitCode: 2, output: '', errors: `${file} cannot be read: ${why}\n` };
  }
}

function run(file: string, work: (text: string) => Outcome): void {
  const text = textOf(file);
  const { exitCode, output, errors } = typeof text === 'string' ? work(text) : text;
  process.stdout.write(output);
  process.stderr.write(errors);
  process.exitCode = exitCode;
}

/** Reads a whole number of an option; what is none is refused before anything is done. */
const whole = (least: number, most: number) => (text: string) => {
  const value = /^\d{1,10}$/.test(text) ? Number(text) : NaN;
  if (value >= least && value <= most) return value;
  const limits = [least, most].map((each) => each.toLocaleString('en-US')).join(' to ');
  throw new InvalidArgumentError(`Write a whole number from ${limits}.`);
};

interface ProveOptions {
  readonly random?: number;
  readonly seed: number;
  readonly suite?: true;
  readonly tests?: true;
  readonly out: string;
}

const program = new Command('wide-lattice')
  .description('Works on Wide Lattice plan files (JSON or YAML; - reads standard input).')
  .exitOverride();

program
  .command('check <file>')
  .description('list findings; exit code 1 while any error is left, 2 when a file cannot be used')
  .addOption(
    new Option('--as <form>', 'how findings are written').choices(['text', 'json', 'junit', 'sarif']).default('text'),
  )
  .addOption(
    new Option('--fail-on <severity>', 'the least severity that ends with exit code 1')
      .choices(severities)
      .default('error'),
  )
  .option('--base <file>', 'the plan file before: only findings that are new since then are told')
  .action((file: string, { as, base, failOn }: CheckWish) =>
    run(file, (text) => {
      const before = base === undefined ? undefined : textOf(base);
      return typeof before === 'object' ? before : check(text, as, { failOn, base: before });
    }),
  );
program
  .command('trace <file>')
  .description('follow a packet and its answer hop by hop; exit code 1 when they do not arrive')
  .requiredOption(
    '--from <place>',
    'where it starts: "pod of booking-north", "10.20.0.9 in head-office", "the internet"',
  )
  .requiredOption('--to <target>', 'what it asks for: "need registry", "api of booking-north", "10.40.0.9 tcp 443"')
  .option('--bytes <size>', 'size of the packets, headers included: 68 to 9216', whole(68, 9216), USUAL_BYTES)
  .option('--lost <zone>', 'a zone whose nodes and devices are gone: "a of Basalt hall"', '')
  .addOption(new Option('--as <form>', 'how the answer is written').choices(['text', 'json']).default('text'))
  .action((file: string, options: { from: string; to: string; bytes: number; lost: string; as: 'text' | 'json' }) =>
    run(file, (text) => traced(text, options)),
  );
program
  .command('test <file>')
  .description('run the tests of the connection that the plan gives; exit code 1 when one fails')
  .addOption(new Option('--as <form>', 'how results are written').choices(['text', 'json', 'junit']).default('text'))
  .action((file: string, { as }: { as: TestForm }) => run(file, (text) => tested(text, as)));
program
  .command('serve <file>')
  .description('have names, load balancers and cluster APIs of the plan answer at ports of loopback, until Ctrl-C')
  .option(
    '--from <vantage...>',
    'from where they are asked: "the internet", "machines of booking", "pods of booking-north"',
    ['the internet'],
  )
  .option('--api <cluster...>', 'clusters whose API answers', [])
  .option('--first-port <port>', 'the first of the ports: 1024 to 65535', whole(1024, 65_535))
  .option('--minutes <count>', 'after how long it ends by itself: 1 to 1440', whole(1, 1440))
  .option('--health-seconds <count>', 'until health checks find that a member stopped: 0 to 300', whole(0, 300))
  .option('--out <folder>', 'where certificates and kubeconfigs are written', '.')
  .action(async (file: string, options: ServeOptions) => {
    const to = (stream: NodeJS.WriteStream) => (line: string) => void stream.write(`${line}\n`);
    process.exitCode = await serve(file, options, to(process.stdout), to(process.stderr));
  });
program
  .command('prove [file]')
  .description(
    'build a plan in network namespaces and send real packets; exit code 1 when the kernel disagrees, 3 where it cannot be tried',
  )
  .option('--random <count>', 'prove this many random plans instead of a file', whole(0, 1_000_000))
  .option('--seed <number>', 'the first seed of the random plans', whole(0, 4_294_967_295), 1)
  .option('--suite', 'prove the random plans whose flows meet everything often enough, instead of a file')
  .option(
    '--tests',
    'send the tests of the connection that are generated from the plan, instead of every place to every other',
  )
  .option('--out <folder>', 'where random plans that the kernel disagrees with are written', '.')
  .action(async (file: string | undefined, { random, seed, suite, tests, out }: ProveOptions) => {
    const print = (line: string) => process.stdout.write(`${line}\n`);
    if (suite === true || random !== undefined) {
      const seeds = suite === true ? SUITE : Array.from({ length: random ?? 0 }, (_, i) => seed + i);
      process.exitCode = await proveRandom(seeds, out, print);
      return;
    }
    const read = readPlanFile(readFileSync(file === undefined || file === '-' ? 0 : file, 'utf8'));
    if (!read.ok) {
      process.stderr.write(
        `The plan file cannot be used: ${read.problems[0]?.path ?? ''}: ${read.problems[0]?.message ?? ''}\n`,
      );
      process.exitCode = 2;
      return;
    }
    process.exitCode = await provePlan(read.plan, tests === true, print);
  });
program
  .command('diff <before> <after>')
  .description(
    'tell in words what a second plan file has otherwise; exit code 0 where nothing differs, 1 where something does',
  )
  .action((before: string, after: string) =>
    run(before, (first) => {
      const second = textOf(after);
      return typeof second === 'string' ? difference(first, second) : second;
    }),
  );
program
  .command('merge <base> <ours> <theirs>')
  .description(
    'bring two edited plan files together, row by row and field by field; exit code 1 where both changed the same otherwise',
  )
  .option('--out <file>', 'where the result is written: by default over the second file')
  .action((base: string, ours: string, theirs: string, { out = ours }: { out?: string }) => {
    run(base, (began) => {
      const [here, there] = [textOf(ours), textOf(theirs)];
      if (typeof here !== 'string') return here;
      return typeof there === 'string' ? merge({ base: began, ours: here, theirs: there }, out) : there;
    });
  });
program
  .command('handover <file>')
  .description('write everything that builders need as one zip: of the whole plan, or of one cluster, site or template')
  .option('--cluster <name>', 'only what is for this cluster')
  .option('--site <name>', 'only what is for the clusters of this site')
  .option('--template <name>', 'only what is for the clusters of this template')
  .option('--out <zip>', 'where it is written', 'handover.zip')
  .action((file: string, options: HandoverOptions) => run(file, (text) => handover(text, options)));
program
  .command('completion')
  .description('print a script that completes commands and options in bash and zsh: source <(wide-lattice completion)')
  .action(() => {
    process.stdout.write(completionOf(program));
  });
program
  .command('table <file>')
  .description('print the allocation table as CSV')
  .action((file: string) => run(file, table));
program
  .command('propose <file>')
  .description('print the ranges that would be proposed, tab separated')
  .action((file: string) => run(file, proposal));
program
  .command('convert <file>')
  .description('write the plan file again')
  .addOption(new Option('--to <syntax>', 'the syntax to write').choices(['json', 'yaml']).default('yaml'))
  .action((file: string, { to }: { to: 'json' | 'yaml' }) => run(file, (text) => convert(text, to)));

try {
  await program.parseAsync();
} catch (error) {
  // Commander has printed what is wrong with the call; anything else is told here. A wrong call is "cannot be used", not "an error is left".
  if (!(error instanceof CommanderError))
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = error instanceof CommanderError && error.exitCode === 0 ? 0 : 2;
}
