/** What a condition changes, for people to read and to change by a click on the drawing: each gives the condition as it is then. */
import { alterationFields, machineKinds, outageKinds, type Alterations, type Condition } from './condition';
import { nameOf, type Element } from './element';
import type { ElementId } from './fields';
import type { Network } from './network';

type ListField = 'open' | 'closed' | 'out' | 'earthed' | 'stopped' | 'running';

/** One thing that a condition changes. */
export interface ConditionChange {
  readonly element: ElementId;
  readonly field: keyof Alterations;
  /** "open", "out of service", "tap −3". */
  readonly text: string;
}

const words: Readonly<Record<ListField, string>> = {
  open: 'open',
  closed: 'closed',
  out: 'out of service',
  earthed: 'earthed for work',
  stopped: 'not running',
  running: 'running',
};

const signed = (value: number): string => (value < 0 ? `−${-value}` : value > 0 ? `+${value}` : '0');

/** All that a condition changes of the network as drawn, in the order of its fields. */
export const conditionChanges = (condition: Condition): ConditionChange[] =>
  alterationFields.flatMap((field): ConditionChange[] => {
    if (field === 'taps')
      return condition.taps.map(({ element, position }) => ({ element, field, text: `tap ${signed(position)}` }));
    if (field === 'voltages')
      return condition.voltages.map(({ element, percent }) => ({ element, field, text: `${percent} % Un` }));
    return condition[field].map((element) => ({ element, field, text: words[field] }));
  });

const lists: readonly ListField[] = ['open', 'closed', 'out', 'earthed', 'stopped', 'running'];

/** The condition without anything about an element in its lists. */
const cleared = (condition: Condition, id: ElementId): Condition => ({
  ...condition,
  ...Object.fromEntries(lists.map((field) => [field, condition[field].filter((each) => each !== id)])),
});

const put = (condition: Condition, id: ElementId, field: ListField | null): Condition => {
  const rest = cleared(condition, id);
  return field === null ? rest : { ...rest, [field]: [...rest[field], id] };
};

const isOne = (kinds: readonly string[], element: Element): boolean => kinds.includes(element.kind);

/** States that a click goes through, from that of the network as drawn; none where a condition does not change such an element. */
function statesOf(condition: Condition, element: Element): readonly (ListField | null)[] {
  if (element.kind === 'switch' || element.kind === 'earthingSwitch') return [null, element.closed ? 'open' : 'closed'];
  if (element.kind === 'line') return [null, 'out', 'earthed'];
  if (element.kind === 'synchronousMachine' || element.kind === 'powerStationUnit')
    return condition.sources === 'minimum' && !element.runsAtMinimum ? [null, 'running'] : [null, 'stopped'];
  if (isOne(machineKinds, element)) return [null, 'stopped'];
  return isOne(outageKinds, element) ? [null, 'out'] : [];
}

/** After a click on an element: its next state; null where there is none. */
export function clicked(condition: Condition, element: Element): Condition | null {
  const states = statesOf(condition, element);
  if (states.length === 0) return null;
  const now = lists.find((field) => condition[field].includes(element.id)) ?? null;
  return put(condition, element.id, states[(states.indexOf(now) + 1) % states.length] ?? null);
}

/** Without one of its changes. */
export function without(condition: Condition, { element, field }: ConditionChange): Condition {
  const list = condition[field] as readonly (ElementId | { readonly element: ElementId })[];
  return {
    ...condition,
    [field]: list.filter((each) => (typeof each === 'string' ? each : each.element) !== element),
  };
}

/** With a tap position or an operating voltage set. */
export const withTap = (condition: Condition, element: ElementId, position: number): Condition => ({
  ...condition,
  taps: [...condition.taps.filter((each) => each.element !== element), { element, position }],
});
export const withVoltage = (condition: Condition, element: ElementId, percent: number): Condition => ({
  ...condition,
  voltages: [...condition.voltages.filter((each) => each.element !== element), { element, percent }],
});

/** "minimum sources; BRA Q30 open, FER-BRA 1 out of service" */
export function conditionSummary(network: Network, condition: Condition): string {
  const changes = conditionChanges(condition).map(({ element, text }) => {
    const found = network.elements.get(element);
    return `${found ? nameOf(found) : element} ${text}`;
  });
  return changes.length > 4 ? `${changes.slice(0, 3).join(', ')} and ${changes.length - 3} more` : changes.join(', ');
}

/** The network as a drawing of it in a condition: switch positions set, everything still there. */
export function drawnIn(network: Network, { open, closed }: Condition): Network {
  if (open.length === 0 && closed.length === 0) return network;
  const elements = new Map(network.elements);
  for (const [ids, position] of [
    [open, false],
    [closed, true],
  ] as const)
    for (const id of ids) {
      const element = elements.get(id);
      if (element?.kind === 'switch' || element?.kind === 'earthingSwitch')
        elements.set(id, { ...element, closed: position });
    }
  return { elements };
}
