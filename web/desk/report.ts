/** How the desk says what came of a change. */
import { notifications } from '@mantine/notifications';
import type { ProjectStore } from '../project/store';

export function report(result: ReturnType<ReturnType<ProjectStore['getState']>['commit']>): boolean {
  if (!result.ok)
    notifications.show({ color: 'red', title: 'This does not fit the project', message: result.problems[0].message });
  return result.ok;
}

/** What was done where one may not be looking. */
export const say = (title: string, message: string): void => void notifications.show({ title, message });

/** What could not be done. */
export const tell = (title: string, message: string): void => void notifications.show({ color: 'red', title, message });
