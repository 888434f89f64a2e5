/** This process among the others on its database: it says what it does, and knows who does the rest. */
import { randomUUID } from 'node:crypto';
import { forgetProcess, noteProcess, runningProcesses, type RunningProcess } from '../db/process-store';
import { database } from './context';
import { log } from './log';
import { runtime } from './runtime';
import { ownRoles, ROLES, type Role } from './roles';

const SAY_EVERY_MS = 5000;
/** Who else runs is asked for so often at most. */
const KNOWN_FOR_MS = 1000;

const own: RunningProcess = { id: randomUUID(), roles: [...ownRoles], address: '' };
let lost = false;

let saying: Promise<void> = Promise.resolve();
const say = (): Promise<void> =>
  (saying = noteProcess(database(), { ...own, address: runtime.address }).then(
    () => void (lost = false),
    (e: unknown) => {
      // Once is enough: the database is away, and whatever needs it says so.
      if (!lost) log.warn({ err: e }, 'the other processes cannot be told of this one');
      lost = true;
    },
  ));

/** Begins to say that this process runs. */
export const join = (): void => {
  void say();
  const timer = setInterval(() => void say(), SAY_EVERY_MS);
  timer.unref();
  runtime.beforeEnd(async () => {
    clearInterval(timer);
    // What is being said now would come after it was forgotten, and it would seem to run for a while.
    await saying;
    await forgetProcess(database(), own.id).catch(() => undefined);
  });
};

let known: { readonly at: number; readonly others: Promise<readonly RunningProcess[]> } | undefined;

/** The other processes. Errors: throws what the database says. */
export const others = (): Promise<readonly RunningProcess[]> => {
  if (!known || Date.now() - known.at > KNOWN_FOR_MS) {
    const asked = runningProcesses(database()).then((all) => all.filter((p) => p.id !== own.id));
    asked.catch(() => (known = undefined));
    known = { at: Date.now(), others: asked };
  }
  return known.others;
};

/** Who does something, other than this one. */
export const whoDoes = async (role: Role): Promise<readonly RunningProcess[]> => (await others()).filter((p) => p.roles.includes(role));

/** What no process does. */
export const lackingRoles = async (): Promise<Role[]> => {
  const all = await others();
  return ROLES.filter((r) => !ownRoles.has(r) && !all.some((p) => p.roles.includes(r)));
};
