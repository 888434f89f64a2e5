/** `signal-post-check`: the build check. Reads what it is given, tells what it found, ends with a code that a build understands. */
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { existsSync } from 'node:fs';
import { baselineOf, newSince } from '../core/report/baseline';
import { countText, FAIL_ON, type FailOn, type Report } from '../core/report/report';
import { readBaseline, readBaselineIfThere, writeBaseline } from './baseline-file';
import { CONFIG_FILE, readConfig, type Config } from './config';
import { OUTPUTS, tell, type Output } from './told';
import { EXIT, misused, Trouble } from './trouble';
import { whenever } from './watch';

export const VERSION = '0.1.0';

interface Common {
  readonly output?: Output;
  readonly to?: string;
  readonly failOn?: FailOn;
  readonly config?: string;
  readonly baseline?: string;
  readonly writeBaseline?: string;
  readonly watch?: boolean;
}

const EXIT_HELP = `
Exit codes: ${EXIT.clean} nothing as grave as --fail-on, ${EXIT.findings} something is, ${EXIT.usage} wrong use, ${EXIT.unreadable} something cannot be read.
PLAN is a file (JSON or YAML), a folder written by “write”, or the address of a Signal Post (its newest version).
What every run shares can be written into ${CONFIG_FILE}: plan, failOn, output, source, intake, calls, packages, ignoreFiles, ignoreNames, keys, baseline, min. A PLAN of “-” is the one named there.`;

const listOf = (text: string, before: readonly string[] = []): string[] => [
  ...before,
  ...text
    .split(',')
    .map((s) => s.trim())
    .filter(Boolean),
];

const notEmpty = (text: string): string => {
  if (text.trim() === '') throw new InvalidArgumentError('It is empty.');
  return text.trim();
};

const keyed = (text: string, before: Readonly<Record<string, string>> = {}): Record<string, string> => {
  const at = text.lastIndexOf('=');
  if (at <= 0 || at === text.length - 1) throw new InvalidArgumentError('Write it as KEY=SOURCE.');
  return { ...before, [text.slice(0, at)]: text.slice(at + 1) };
};

const wholeNumber = (text: string): number => {
  if (!/^\d{1,9}$/.test(text)) throw new InvalidArgumentError('Write a whole number from 0 on.');
  return Number(text);
};

/** Runs the program; the exit code. */
export const run = async (args: readonly string[]): Promise<number> => {
  let code: number = EXIT.clean;
  const program = new Command('signal-post-check')
    .description(
      'Checks a tracking plan, and captured messages and code against it. Needs no database and no network, unless an address is given.',
    )
    .version(VERSION)
    .exitOverride()
    .showHelpAfterError('Use --help to see how it is used.')
    .addHelpText('after', EXIT_HELP);

  const planOf = (path: string, config: Config): string => {
    if (path !== '-') return path;
    if (config.plan === undefined) throw misused(`A PLAN of “-” is the one that ${CONFIG_FILE} names, and it names none.`);
    return config.plan;
  };

  const reporting = (
    name: string,
    description: string,
    work: (given: {
      readonly args: readonly string[];
      readonly files: readonly string[];
      readonly options: Record<string, unknown>;
      readonly config: Config;
    }) => Promise<Report>,
  ) => {
    const command = new Command(name)
      .description(description)
      .exitOverride()
      .addOption(new Option('-o, --output <form>', 'how it is told').choices(OUTPUTS))
      .option('-t, --to <file>', 'where it is written; standard output where left out', notEmpty)
      .addOption(new Option('--fail-on <severity>', 'the least severity that fails the run (default: stop)').choices(FAIL_ON))
      .option('-c, --config <file>', `configuration (default: ${CONFIG_FILE}, where there is one)`, notEmpty)
      .option('--baseline <file>', 'what is known and put up with: only what is new is told, and fails the run', notEmpty)
      .option('--write-baseline <file>', 'writes what is found into the file, as known from now on, and ends without a failure', notEmpty)
      .option('--watch', 'runs again whenever one of the files changes')
      .action(async (...given: unknown[]) => {
        given.pop();
        const options = given.pop() as Common & Record<string, unknown>;
        const config = readConfig(options.config);
        const files = given.filter((g): g is string[] => Array.isArray(g)).flat();
        const names = given.filter((g): g is string => typeof g === 'string');
        const once = async (): Promise<void> => {
          const found = await work({ args: names, files, options, config });
          const output = {
            output: options.output ?? config.output ?? 'text',
            to: options.to,
            failOn: options.failOn ?? config.failOn ?? 'stop',
            version: VERSION,
          } as const;
          if (options.writeBaseline !== undefined) {
            writeBaseline(options.writeBaseline, baselineOf(found, readBaselineIfThere(options.writeBaseline)));
            process.stdout.write(`${found.title}: ${countText(found.results)}, known from now on. Written to ${options.writeBaseline}.\n`);
            code = EXIT.clean;
            return;
          }
          const known = options.baseline ?? config.baseline;
          code = tell(known === undefined ? found : newSince(found, readBaseline(known)), output);
        };
        if (options.watch !== true) {
          await once();
          return;
        }
        const end = new AbortController();
        process.once('SIGINT', () => end.abort());
        process.once('SIGTERM', () => end.abort());
        const watched = [...names.map((n) => planOf(n, config)), ...files].filter((p) => p !== '-' && existsSync(p));
        if (watched.length === 0) throw misused('There is no file to watch.');
        await whenever(
          watched,
          async () => {
            try {
              await once();
            } catch (e) {
              // What is half written will be whole at the next change.
              if (!(e instanceof Trouble)) throw e;
              process.stderr.write(`${e.message}\n`);
            }
          },
          end.signal,
        );
      });
    program.addCommand(command);
    return command;
  };

  const text = (v: unknown): string | undefined => (typeof v === 'string' ? v : undefined);
  const list = (v: unknown): string[] | undefined => (Array.isArray(v) ? (v as string[]) : undefined);

  reporting('lint', 'All rules of the plan.', async ({ args: [plan], config }) => {
    const { lintCommand } = await import('./commands/plan');
    return lintCommand(planOf(plan!, config));
  }).argument('<plan>', 'the plan');

  reporting('diff', 'What changed between two plans: breaking or additive, with reasons.', async ({ args: [from, to], config }) => {
    const { diffCommand } = await import('./commands/plan');
    return diffCommand(planOf(from!, config), planOf(to!, config));
  })
    .argument('<old>', 'the plan before')
    .argument('<new>', 'the plan after');

  reporting(
    'events',
    'Captured messages against the plan: NDJSON, JSON, CloudEvents, HAR; “-” reads lines from standard input.',
    async ({ args: [plan], files, options, config }) => {
      const { eventsCommand } = await import('./commands/events');
      return eventsCommand(planOf(plan!, config), files, {
        source: text(options['source']) ?? config.source,
        intake: text(options['intake']) ?? config.intake ?? '/intake',
        now: Date.now(),
        keys: { ...config.keys, ...(options['key'] as Record<string, string> | undefined) },
        min: (options['min'] as number | undefined) ?? config.min ?? 1,
      });
    },
  )
    .argument('<plan>', 'the plan')
    .argument('<files...>', 'captured messages')
    .option('-s, --source <source>', 'the source that sent them, by name or ID', notEmpty)
    .option('--key <key=source>', 'the source that sends with a write key, or with one that begins so; several times', keyed)
    .option('--min <number>', 'so many messages must be counted, or the run fails (default: 1)', wholeNumber)
    .option('--intake <part>', 'part of the address that a HAR file’s requests are sent to (default: /intake)', notEmpty);

  reporting('trial', 'A trial run offline, on captured messages.', async ({ args: [script], files, options, config }) => {
    const { trialCommand } = await import('./commands/trial');
    const plan = text(options['plan']) ?? config.plan;
    if (plan === undefined) throw misused(`Name the plan with --plan, or in ${CONFIG_FILE}.`);
    return trialCommand(plan, script!, files, {
      source: text(options['source']) ?? config.source,
      intake: text(options['intake']) ?? config.intake ?? '/intake',
    });
  })
    .argument('<script>', 'name of a trial in the plan, or a file with one')
    .argument('<files...>', 'captured messages, with or without lines such as {"step": 2, "at": "2026-03-01T09:30:00Z"}')
    .option('-p, --plan <plan>', 'the plan', notEmpty)
    .option('-s, --source <source>', 'the source that sent them, by name or ID', notEmpty)
    .option('--intake <part>', 'part of the address that a HAR file’s requests are sent to (default: /intake)', notEmpty);

  reporting(
    'usage',
    'Event names in a code base that the plan does not have, or has in another spelling, and planned events that nobody sends.',
    async ({ args: [plan], files, options, config }) => {
      const { usageCommand } = await import('./commands/plan');
      return usageCommand(planOf(plan!, config), files, {
        source: text(options['source']) ?? config.source,
        calls: list(options['calls']) ?? config.calls ?? ['event'],
        packages: list(options['packages']) ?? config.packages ?? [],
        ignoreFiles: list(options['ignoreFiles']) ?? config.ignoreFiles ?? [],
        ignoreNames: list(options['ignoreNames']) ?? config.ignoreNames ?? [],
      });
    },
  )
    .argument('<plan>', 'the plan')
    .argument('<sources...>', 'files and folders')
    .option('-s, --source <source>', 'miss only what this source is to send', notEmpty)
    .option('--calls <names>', 'functions whose first argument is the name of an event, with commas (default: event)', listOf)
    .option('--packages <names>', 'packages besides the sender’s whose functions of these names send events, with commas', listOf)
    .option('--ignore-files <patterns>', 'files that are not looked at, such as **/*.test.ts, with commas', listOf)
    .option('--ignore-names <patterns>', 'texts that are no names of events; * is any number of letters; with commas', listOf);

  const said = ({ code: own, text: message }: { readonly code: number; readonly text: string }): void => {
    process.stdout.write(message);
    code = own;
  };
  program
    .command('write')
    .description(
      'Writes the plan as a folder of YAML files beside the code, one for each event. Files that were edited are never written over.',
    )
    .argument('<plan>', 'the plan')
    .argument('<folder>', 'the folder')
    .option('-c, --config <file>', 'configuration', notEmpty)
    .action(async (plan: string, folder: string, options: Common) => {
      const { writeCommand } = await import('./commands/folder');
      said(await writeCommand(planOf(plan, readConfig(options.config)), folder));
    });
  program
    .command('propose')
    .description(
      'Opens a proposal with what the folder changes, and prints its link. What was changed differently in the meantime is shown.',
    )
    .argument('<folder>', 'a folder that “write” made from a version')
    .requiredOption('--to <address>', 'address of the Signal Post', notEmpty)
    .option('--name <name>', 'name of the proposal', 'Changes beside the code')
    .option('--note <text>', 'why', '')
    .option('--by <name>', 'who proposes it', 'build')
    .action(async (folder: string, options: { to: string; name: string; note: string; by: string }) => {
      const { proposeCommand } = await import('./commands/folder');
      said(await proposeCommand(folder, { to: options.to, name: options.name, note: options.note, author: options.by }));
    });

  try {
    await program.parseAsync([...args], { from: 'user' });
    return code;
  } catch (e) {
    if (e instanceof CommanderError) return e.exitCode === 0 ? EXIT.clean : EXIT.usage;
    if (e instanceof Trouble) {
      process.stderr.write(`${e.message}\n`);
      return e.code;
    }
    throw e;
  }
};
