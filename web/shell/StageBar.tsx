'use client';

import { goTo, useDesk } from '../desk/deskState';
import { useFindings } from '../desk/findings';
import { stageGroups, stageOwning } from '../desk/stage';
import { stages } from '../stages';
import classes from './desk.module.css';

/** The stages in the order of the work; each with the number of its findings. */
export function StageBar() {
  const current = useDesk((state) => state.stage);
  const { value } = useFindings();
  return (
    <nav className={classes.stages} aria-label="Stages">
      {stageGroups.map((group) => (
        <div key={group} className={classes.group}>
          <div className={classes.groupName}>{group}</div>
          {stages
            .filter((stage) => stage.group === group)
            .map((stage) => {
              const count = value?.filter((problem) => stageOwning(problem.code).id === stage.id).length ?? 0;
              return (
                <button
                  key={stage.id}
                  type="button"
                  className={classes.stage}
                  aria-current={current === stage.id ? 'page' : undefined}
                  onClick={() => goTo(stage.id)}
                >
                  {stage.title}
                  {count > 0 && (
                    <span className={classes.count} title={`${count} findings`}>
                      {count}
                    </span>
                  )}
                </button>
              );
            })}
        </div>
      ))}
    </nav>
  );
}
