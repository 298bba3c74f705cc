'use client';

import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import type { Problem } from '@mesura/core/model/problem';
import type { SheetDifference } from '@mesura/core/sheets/difference';
import { movedFindings, readFindings } from '@mesura/core/sheets/findings';
import { useProject } from '../project/ProjectContext';
import type { MovedAnswer } from '../workers/coreService';
import { noAnswer, useCore, useCoreService, type Answer } from '../workers/useCore';
import { inForce, readRegister, subjectOf, useRegister, type RegisterState } from './register';

const Context = createContext<Answer<readonly MovedAnswer[]>>(noAnswer);

/** Reads the register, and asks with every change what of the issued sheets is no longer as it was signed. */
export function SheetsProvider({ children }: { children: ReactNode }) {
  const id = useProject((state) => state.id);
  const service = useCoreService();
  const register = useRegister();
  const [held, setHeld] = useState(0);
  useEffect(() => void readRegister(id), [id]);
  const { contents, runs, sheets, projectId } = register;
  useEffect(() => {
    if (!service || projectId !== id) return;
    const list = inForce({ runs, sheets }).flatMap((sheet) => {
      const content = contents.get(sheet.id);
      return content ? [{ id: sheet.id, subject: subjectOf(sheet, runs), content }] : [];
    });
    let stale = false;
    void service.holdSheets(list).then(() => !stale && setHeld((count) => (list.length > 0 ? count + 1 : 0)));
    return () => {
      stale = true;
    };
  }, [service, contents, runs, sheets, projectId, id]);
  const answer = useCore<readonly MovedAnswer[]>(
    held === 0 ? null : `sheets moved ${held}`,
    (core, ticket, onProgress) => core.sheetsMoved(ticket, onProgress),
  );
  return <Context.Provider value={answer}>{children}</Context.Provider>;
}

/** By the number of the sheet in the register; null until it is known. */
export function useMoved(): ReadonlyMap<number, readonly SheetDifference[]> | null {
  const { value } = useContext(Context);
  const { contents } = useRegister();
  return useMemo(
    () =>
      value ? new Map(value.map(({ id, differences }) => [id, differences])) : contents.size === 0 ? new Map() : null,
    [value, contents],
  );
}

const nameOfContent = (register: RegisterState, id: number): string => {
  const content = register.contents.get(id);
  return content ? ('relay' in content ? content.relay.name : content.name) : '';
};

/** Findings of issued sheets and of what was read back. */
export function useSheetFindings(): readonly Problem[] {
  const register = useRegister();
  const moved = useMoved();
  return useMemo(() => {
    const force = inForce(register);
    const ofMoved = force.flatMap((sheet) => {
      const differences = moved?.get(sheet.id);
      return differences
        ? [
            {
              subject: subjectOf(sheet, register.runs),
              name: nameOfContent(register, sheet.id),
              number: sheet.number,
              differences,
            },
          ]
        : [];
    });
    const ofRead = register.readings.flatMap((reading) => {
      const sheet = force.find(({ relayId }) => relayId === reading.subjectId);
      if (!sheet) return [];
      const accepted = new Set(reading.accepted.map(({ key }) => key));
      const open = new Set(reading.deviations.filter((key) => !accepted.has(key)));
      return [
        {
          subject: subjectOf(sheet, register.runs),
          name: nameOfContent(register, sheet.id) || reading.subjectId,
          number: reading.number,
          source: reading.source,
          on: reading.at.slice(0, 10),
          deviations: reading.rows.filter(({ key }) => open.has(key)),
          isOld: reading.number < sheet.number,
        },
      ];
    });
    return [...readFindings(ofRead), ...movedFindings(ofMoved)];
  }, [register, moved]);
}
