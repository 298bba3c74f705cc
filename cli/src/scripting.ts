/** A script's view of an open project: what it reads, changes and asks. The project itself stays as it is; what the script made of it is handed back as changes. */
import { oneTable } from '@mesura/core/batch/table';
import { gridOf, inCase, SettingRefusal, settingsOf } from '@mesura/core/batch/values';
import { bytesOf } from '@mesura/core/formats/open';
import { applyChanges, changeSchema, type Change } from '@mesura/core/model/changes';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { conditionsOf } from '@mesura/core/model/state';
import { problemsOf } from '@mesura/core/model/problem';
import type { ScriptFile, ScriptHost } from '@mesura/core/scripts/sandbox';
import type { Ask, OpenProject, Outcome } from './command';
import { Refusal } from './options';
import { isStudy, typedOptions } from './words';

export class ScriptSession implements ScriptHost {
  private remarks: readonly string[] = [];

  constructor(
    private project: OpenProject,
    private readonly ask: Ask,
    private readonly tell: (share: number) => void = () => undefined,
  ) {
    this.before = project;
  }

  private readonly before: OpenProject;

  get name(): string {
    return this.project.name;
  }

  readonly now = (): number => performance.now();

  elements(kind: string | null): unknown {
    const all = [...this.project.network.elements.values()];
    return kind === null ? all : all.filter((element) => element.kind === kind);
  }

  element(nameOrId: string): unknown {
    const { elements } = this.project.network;
    return (
      elements.get(nameOrId as ElementId) ??
      [...elements.values()].find((element) => 'name' in element && nameOf(element) === nameOrId) ??
      null
    );
  }

  conditions(): unknown {
    return conditionsOf(this.project.network).map(({ id, name }) => ({ id, name }));
  }

  change(change: unknown): void {
    const read = changeSchema.safeParse(change);
    if (!read.success) throw new Error(problemsOf(read.error)[0].message);
    this.apply([read.data]);
  }

  set(field: string, value: string): void {
    try {
      const cases = gridOf(settingsOf(this.project.network, [`${field}=${value}`]));
      if (cases.length !== 1) throw new Error(`"${value}" is not one value`);
      this.project = { ...this.project, network: inCase(this.project.network, cases[0]) };
    } catch (error) {
      if (error instanceof SettingRefusal) throw new Error(error.message, { cause: error });
      throw error;
    }
  }

  study(name: string, options: Readonly<Record<string, unknown>>, form: 'json' | 'csv'): unknown {
    if (!isStudy(name) || name === 'batch' || name === 'script')
      throw new Error(`there is no study "${name}" for scripts`);
    const outcome = this.outcome(name, options, form);
    this.remarks = outcome.errors.split('\n').filter(Boolean);
    if (outcome.output === '') throw new Error(outcome.errors.trim() || `${name} gave no answer`);
    if (form === 'json') return JSON.parse(outcome.output) as unknown;
    const { columns, rows } = oneTable([{ run: '', csv: outcome.output }]);
    return [columns.slice(1), ...rows.map((row) => row.slice(1))];
  }

  private outcome(name: string, options: Readonly<Record<string, unknown>>, form: 'json' | 'csv'): Outcome {
    try {
      const typed = isStudy(name) ? typedOptions(name, options) : options;
      const outcome = this.ask(name, typed, form, this.project);
      if (outcome instanceof Promise) throw new Error(`${name} cannot be asked by a script`);
      return outcome;
    } catch (error) {
      if (error instanceof Refusal) throw new Error(error.message, { cause: error });
      throw error;
    }
  }

  notes(): readonly string[] {
    return this.remarks;
  }

  progress(share: number): void {
    this.tell(share);
  }

  private apply(batch: readonly Change[]): void {
    const applied = applyChanges(this.project.network, batch);
    if (!applied.ok) throw new Error(applied.problems.map(({ message }) => message).join('; '));
    this.project = { ...this.project, network: applied.network };
  }

  /** The project as the script leaves it. */
  get after(): OpenProject {
    return this.project;
  }

  /** What the script changed, as one batch on what it found. */
  changes(): Change[] {
    const before = this.before.network.elements;
    const after = this.project.network.elements;
    return [
      ...[...before.keys()].filter((id) => !after.has(id)).map((id): Change => ({ op: 'remove', id })),
      ...[...after.values()].flatMap((element): Change[] => {
        const old = before.get(element.id);
        if (!old) return [{ op: 'add', element }];
        return old === element || JSON.stringify(old) === JSON.stringify(element) ? [] : [{ op: 'update', element }];
      }),
    ];
  }
}

/** A file that a script wrote, as it is stored. No cell of a workbook is a formula. */
export async function contentOf(file: ScriptFile): Promise<Uint8Array> {
  if ('text' in file) return new TextEncoder().encode(file.text);
  const sheets = file.sheets.map(({ name, columns, rows }) => ({
    name: name.slice(0, 31),
    rows: [columns, ...rows.map((row) => row.map((value) => (typeof value === 'boolean' ? String(value) : value)))],
  }));
  return bytesOf(sheets, 'xlsx');
}
