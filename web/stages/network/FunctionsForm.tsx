'use client';

import { useState } from 'react';
import { ActionIcon, Button, Group, Menu, Switch, Tooltip } from '@mantine/core';
import { IconLink, IconPlus, IconTrash } from '@tabler/icons-react';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { deviceFrom, withFunction, withFunctions, type DeviceElement } from '@mesura/core/protection/device';
import { ownInput, type Host } from '@mesura/core/protection/family';
import { allFamilies, familyOf } from '@mesura/core/protection/registry';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { Chip } from '../../desk/Chip';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { FunctionRow } from '../grading/FunctionRow';
import { FunctionLinks } from './FunctionLinks';
import bench from '../../card/bench.module.css';

const hostOf = (element: DeviceElement): Host => (element.kind === 'relay' ? 'relay' : element.type);

/** Families whose functions an element may have. */
export const familiesFor = (element: DeviceElement) =>
  allFamilies().filter(({ hosts }) => hosts.includes(hostOf(element)));

/** Has something to say beside its settings. */
const isLinked = (fn: DeviceFunction): boolean =>
  fn.family === 'light' || fn.family === 'breakerFailure' || fn.interlock !== undefined || fn.maintenance === true;

/** The functions of a relay, or of a switch that protects by itself. */
export function FunctionsForm({ element }: { element: DeviceElement }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const store = (changed: DeviceElement, what: string) => {
    const result = commit([{ op: 'update', element: changed }], `${element.name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const put = (fn: DeviceFunction, what: string) => store(withFunction(element, fn), what);
  const device = deviceFrom(network, element);
  const families = familiesFor(element);
  const [linked, setLinked] = useState<string | null>(null);
  // A relay measures at the first of its inputs until another one is chosen; a switch in itself.
  const input: ElementId | null = element.kind === 'relay' ? (element.inputs[0]?.id ?? null) : null;
  return (
    <>
      <Group justify="space-between" mt={16} mb={4}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          Functions{' '}
          {element.assumed?.includes('functions') && (
            <Tooltip label="Usual functions with settings to begin with: set them, or confirm them above.">
              <span>
                <Chip state="warn">assumed</Chip>
              </span>
            </Tooltip>
          )}
        </h3>
        <Menu>
          <Menu.Target>
            <Button size="compact-xs" variant="light" leftSection={<IconPlus size={13} />}>
              Add function
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {families.flatMap((family) =>
              family.variants.map(({ value, label }) => (
                <Menu.Item
                  key={`${family.id}${value}`}
                  onClick={() => {
                    const like = element.functions.find((fn) => fn.family === family.id);
                    const fn = family.fresh(newId(), value, input, like);
                    store(withFunctions(element, [...element.functions, fn]), `add ${family.code(fn)}`);
                  }}
                >
                  {label}
                </Menu.Item>
              )),
            )}
          </Menu.Dropdown>
        </Menu>
      </Group>
      {element.functions.map((fn) => {
        const code = familyOf(fn).code(fn);
        return (
          <div key={fn.id}>
            <FunctionRow
              fn={fn}
              inputs={device?.inputs.map(({ id, through }) => ({
                id,
                label: nameOf(network.elements.get(through)!),
              }))}
              rating={device?.inputs.find(({ id }) => id === (fn.input ?? ownInput))?.rating ?? null}
              onChange={(changed) => put(changed, `${code} settings`)}
              extra={
                <>
                  {!isLinked(fn) && (
                    <Tooltip label="Interlock, maintenance" openDelay={300}>
                      <ActionIcon
                        variant="subtle"
                        color="gray"
                        size={22}
                        aria-label={`${code} interlock and maintenance`}
                        aria-expanded={linked === fn.id}
                        onClick={() => setLinked(linked === fn.id ? null : fn.id)}
                      >
                        <IconLink size={14} />
                      </ActionIcon>
                    </Tooltip>
                  )}
                  <Tooltip label="In use" openDelay={300}>
                    <Switch
                      size="xs"
                      aria-label={`${code} in use`}
                      checked={fn.enabled}
                      onChange={(event) => put({ ...fn, enabled: event.currentTarget.checked }, `${code} in use`)}
                    />
                  </Tooltip>
                  <ActionIcon
                    variant="subtle"
                    color="red"
                    size={22}
                    aria-label={`Remove ${code}`}
                    onClick={() =>
                      store(
                        withFunctions(
                          element,
                          element.functions.filter((other) => other.id !== fn.id),
                        ),
                        `remove ${code}`,
                      )
                    }
                  >
                    <IconTrash size={14} />
                  </ActionIcon>
                </>
              }
            />
            {(linked === fn.id || isLinked(fn)) && (
              <FunctionLinks element={element} fn={fn} code={code} onChange={put} />
            )}
          </div>
        );
      })}
      {element.functions.length === 0 && <p className={bench.muted}>No function yet.</p>}
    </>
  );
}
