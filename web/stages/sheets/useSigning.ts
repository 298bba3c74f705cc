/** What can be done with the ticked rows: prepared, signed, put into one file. */
import { notifications } from '@mantine/notifications';
import type { LifeStep, SheetState } from '@mesura/core/sheets/life';
import { inForce, useRegister } from '../../desk/register';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { saveFile } from '../../project/reports';
import { may, type Here } from '../../project/who';
import type { RegisterRow } from './rows';
import type { Asked } from './SignDialog';
import { setSheets } from './state';
import { prepare, step } from './steps';

type Role = Here['roles'][number];

const signs: readonly {
  readonly step: LifeStep;
  readonly verb: string;
  readonly from: SheetState;
  readonly roles: readonly Role[];
  readonly help: string;
}[] = [
  {
    step: 'checked',
    verb: 'Check',
    from: 'prepared',
    roles: ['checker'],
    help: 'Your name stands on the sheet as that of who has checked values, figures and reasons. Whoever has prepared it cannot check it.',
  },
  {
    step: 'approved',
    verb: 'Approve',
    from: 'checked',
    roles: ['approver'],
    help: 'Approving issues the next revision: it is frozen with its figures and its PDF, and cannot be changed. A later revision replaces it.',
  },
];

const many = (count: number): string => (count === 1 ? 'one sheet' : `${count} sheets`);

export function useSigning(rows: readonly RegisterRow[], setAsked: (asked: Asked) => void) {
  const store = useProjectStore();
  const projectId = useProject((state) => state.id);
  const register = useRegister();
  const said = (title: string, count: number) =>
    count > 0 && notifications.show({ color: 'verdigris', title, message: '' });
  const force = new Set(inForce(register).map(({ id }) => id));
  const issued = rows.flatMap(({ sheet }) => (sheet && force.has(sheet.id) ? [sheet.id] : []));
  const stations = [...new Set(rows.map(({ station }) => station))];
  return {
    prepare: () =>
      setAsked({
        title: `Prepare ${many(rows.length)}`,
        verb: 'Prepare',
        help: 'What the sheets say now is frozen under your signature, and waits to be checked.',
        words: { label: 'Reason of this revision', must: false },
        run: async ({ text, as }, onProgress, isWanted) => {
          const { revision } = store.getState();
          const count = await prepare(projectId, { subjects: rows, revision, reason: text, as }, onProgress, isWanted);
          said(`${many(count)} prepared`, count);
          setSheets({ ticked: new Set() });
        },
      }),
    actions: signs.flatMap(({ step: what, verb, from, roles, help }) => {
      const runs = rows.flatMap(({ open }) => (open?.state === from ? [open] : []));
      if (runs.length === 0 || !may(...roles)) return [];
      const ask = () =>
        setAsked({
          title: `${verb} ${many(runs.length)}`,
          verb,
          help,
          words: null,
          run: async ({ as }, onProgress, isWanted) => {
            const count = await step(projectId, runs, { step: what, as }, onProgress, isWanted);
            said(`${many(count)} ${what === 'approved' ? 'issued' : what}`, count);
            setSheets({ ticked: new Set() });
          },
        });
      return [{ verb, count: runs.length, ask }];
    }),
    folder:
      issued.length === 0
        ? null
        : async () => {
            const title = stations.length === 1 && stations[0] ? `Setting sheets ${stations[0]}` : 'Setting sheets';
            try {
              await saveFile(`/projects/${projectId}/sheets/folder`, { title, sheets: issued });
            } catch (error) {
              notifications.show({ color: 'red', title: 'Not made', message: (error as Error).message });
            }
          },
  };
}
