/** A command of the terminal: one file under `commands`, registered in its index. */
import { alternating } from '@mesura/core/model/directPart';
import { readProject } from '@mesura/core/formats/project/project';
import { networkOf, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import { FaultEngine } from '@mesura/core/studies/engine';
import { Studies } from '@mesura/core/studies/studies';
import type { Subject } from '@mesura/core/sheets/content';
import { oneOf, Refusal, type Values } from './options';

/** Reads texts. What is open already, and need not be read again, it may know as a project. */
export interface Read {
  (path: string): string;
  readonly project?: (path: string) => OpenProject | undefined;
}

export interface OpenProject {
  readonly network: Network;
  readonly name: string;
  readonly notes: string;
}

/** Exit codes: 0 done, 1 bad input or nothing computed, 2 wrong usage, 3 computed, and something does not hold. */
export interface Outcome {
  readonly code: 0 | 1 | 2 | 3;
  readonly output: string;
  readonly errors: string;
  /** In place of a text. */
  readonly bytes?: Uint8Array;
  /** To be written. */
  readonly files?: readonly { readonly path: string; readonly content: string | Uint8Array }[];
}

/** What a command is given. */
export interface Call {
  /** Files named, in their order. */
  readonly paths: readonly string[];
  readonly values: Values;
  readonly read: Read;
  readonly bytes: ReadBytes;
  /** The terminal program itself, for commands that ask others. */
  readonly ask: (args: readonly string[]) => Outcome;
  readonly documents?: Documents;
  /** Another study of an open project: for batches and scripts. */
  readonly study: Ask;
}

export type AnswerForm = 'json' | 'csv' | 'table' | 'pdf' | 'xlsx' | 'junit';

/** A study of an open project. Options that are wrong give exit code 2 with words, never an exception. */
export type Ask = (
  study: string,
  options: Readonly<Record<string, unknown>>,
  form: AnswerForm,
  project: OpenProject,
) => Outcome | Promise<Outcome>;

/** What only the server's own writer of documents can do. */
export interface Documents {
  /** A sheet as PDF, a draft; null where there is nothing to say about its subject. */
  readonly sheetPdf: (project: OpenProject, subject: Subject) => Promise<Uint8Array | null>;
}

export interface Command {
  readonly name: string;
  /** One project file, some files, or something else. */
  readonly takes: string;
  readonly summary: string;
  readonly run: (call: Call) => Outcome | Promise<Outcome>;
}

/** For what a text cannot hold. */
export type ReadBytes = (path: string) => Uint8Array;

export const done = (output: string, errors = ''): Outcome => ({ code: 0, output, errors });

/** The one file that a command takes; refuses several, or none. */
export function onePath({ paths }: Call, command: string): string {
  if (paths.length === 1) return paths[0];
  throw new Refusal(2, `${command} takes one project file, not ${paths.length}: mesura ${command} FILE [options]`);
}

/** What alternating current flows in. */
export const networkFor = (call: Call, command: string): Network => alternating(wholeNetworkFor(call, command));

/** The same with its direct current. */
export const wholeNetworkFor = (call: Call, command: string): Network => networkFrom(onePath(call, command), call.read);

export const networkFrom = (path: string, read: Read): Network => projectFrom(path, read).network;

/** A project file read: its network, name and notes. */
export function projectFrom(path: string, read: Read): OpenProject {
  const open = read.project?.(path);
  if (open) return open;
  let text: string;
  try {
    text = read(path);
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
  const project = readProject(text);
  if (!project.ok) throw new Refusal(1, project.problems.map((problem) => `${path}: ${problem.message}`).join('\n'));
  const { elements, name, notes } = project.project;
  return { network: networkOf(elements), name, notes };
}

export const plainFormat = ({ format }: Values) => oneOf('--format', format, ['table', 'csv', 'json']);

/** One for a network, however often it is asked about: a script or a batch asks many times. */
export const studiesOf = (network: Network): Studies => keptFor(allStudies, network, () => new Studies(network));
export const engineOf = (network: Network): FaultEngine => keptFor(allEngines, network, () => new FaultEngine(network));

const allStudies = new WeakMap<Network, Studies>();
const allEngines = new WeakMap<Network, FaultEngine>();

function keptFor<T>(all: WeakMap<Network, T>, network: Network, make: () => T): T {
  let known = all.get(network);
  if (!known) all.set(network, (known = make()));
  return known;
}

export const notes = (problems: readonly Problem[]): string =>
  [...new Set(problems.map(({ message }) => message))].map((message) => `note: ${message}\n`).join('');
