/** Cells of a board's schedule: what stands in them, and the elements that a typed text makes. */
import {
  layingMethods,
  phaseChoices,
  usualConsumer,
  usualLaying,
  type Consumer,
  type LoadGiven,
} from '../model/circuit';
import { sections } from '../circuits/ampacity';
import { elementSchemas, type Element, type ElementOf } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import type { Line } from '../model/branches';
import type { Switch } from '../model/switching';
import { formatNumber, parseQuantity, plainNumber } from '../fields/quantity';
import { linkSizes } from '../protection/fuse/link';
import { miniatureSizes } from '../protection/miniature';
import { class3LimitA2s } from '../protection/miniature/limit';
import { familyNamed, familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { cableCase, cableValues } from './cable';
import { consumerOf } from './demand';

/** Elements that a row of the schedule shows. */
export interface ScheduleParts {
  readonly board: ElementId;
  /** What is supplied; null where it is more than one thing, or another board. */
  readonly end: ElementId | null;
  /** The main cable. */
  readonly cable: ElementId | null;
  /** The switch whose device is shown. */
  readonly device: ElementId | null;
}

export const scheduleCells = [
  'name',
  'size',
  'powerFactor',
  'phases',
  'use',
  'demand',
  'device',
  'length',
  'section',
  'method',
  'ambient',
  'together',
] as const;
export type ScheduleCell = (typeof scheduleCells)[number];

export const cellTitles: Readonly<Record<ScheduleCell, string>> = {
  name: 'Circuit',
  size: 'Load',
  powerFactor: 'cos φ',
  phases: 'Phases',
  use: 'Use',
  demand: 'Demand %',
  device: 'Device',
  length: 'Length m',
  section: 'Section mm²',
  method: 'Laid',
  ambient: 'θ °C',
  together: 'Beside',
};

type ConsumerElement = ElementOf<'load'> | ElementOf<'asynchronousMotor'> | ElementOf<'staticDrive'>;
const isConsumer = (element: Element | null | undefined): element is ConsumerElement =>
  element?.kind === 'load' || element?.kind === 'asynchronousMotor' || element?.kind === 'staticDrive';

const unV = (network: Network, { board }: ScheduleParts): number =>
  1000 * (find(network, 'bus', board)?.nominalKv ?? 0.4);
/** VA for an ampere of the consumer. */
const vaPerAmpere = (network: Network, parts: ScheduleParts, { phases }: Consumer): number =>
  phases === 'three' ? Math.sqrt(3) * unV(network, parts) : unV(network, parts) / Math.sqrt(3);

/** "C16", "gG 25 A": what protects at a switch. */
export function deviceText(element: Switch): string {
  const own = element.functions.filter(({ enabled }) => enabled);
  if (own.length === 0) return '';
  return own
    .map((fn) =>
      fn.family === 'release'
        ? `Ir ${plainNumber(fn.ir * fn.ratedA)} A`
        : fn.family === 'fuse'
          ? `${fn.class} ${plainNumber(fn.linkA)} A`
          : familyOf(fn).code(fn),
    )
    .join(' + ');
}

export function cellText(network: Network, parts: ScheduleParts, cell: ScheduleCell): string {
  const end = parts.end ? network.elements.get(parts.end) : null;
  const line = find(network, 'line', parts.cable);
  const own = find(network, 'switch', parts.device);
  const consumer = end ? consumerOf(end) : usualConsumer;
  switch (cell) {
    case 'name':
      return end && 'name' in end ? end.name : '';
    case 'size': {
      if (!end) return '';
      if (end.kind === 'asynchronousMotor')
        return `${end.count > 1 ? `${end.count} × ` : ''}${plainNumber(1000 * end.ratedMw)} kW motor`;
      if (end.kind !== 'load' && end.kind !== 'staticDrive') return '';
      const kva = 1000 * end.ratedMva;
      if (consumer.given === 'kW') return `${formatNumber(kva * end.powerFactor, 5).replace(/\.?0+$/, '')} kW`;
      if (consumer.given === 'A')
        return `${formatNumber((1000 * kva) / vaPerAmpere(network, parts, consumer), 5).replace(/\.?0+$/, '')} A`;
      return `${plainNumber(kva)} kVA`;
    }
    case 'powerFactor':
      return isConsumer(end) ? plainNumber(end.powerFactor) : '';
    case 'phases':
      return isConsumer(end) ? (consumer.phases === 'three' ? '3' : consumer.phases) : '';
    case 'use':
      return isConsumer(end) ? consumer.use : '';
    case 'demand':
      return isConsumer(end) ? plainNumber(consumer.demandPercent) : '';
    case 'device':
      return own ? deviceText(own) : '';
    case 'length':
      return line ? plainNumber(1000 * line.lengthKm) : '';
    case 'section':
      return line?.sectionMm2 ? `${line.circuits > 1 ? `${line.circuits} × ` : ''}${plainNumber(line.sectionMm2)}` : '';
    case 'method':
      return line?.laying?.method ?? '';
    case 'ambient':
      return line?.laying ? plainNumber(line.laying.ambientC) : '';
    case 'together':
      return line?.laying ? String(line.laying.together) : '';
  }
}

export type TypedCell =
  { readonly ok: true; readonly element: Element } | { readonly ok: false; readonly message: string };
const no = (message: string): TypedCell => ({ ok: false, message });

/** The element as its schema takes it; fields that were assumed are no longer. */
function made(element: Element, paths: readonly string[]): TypedCell {
  const assumed = 'assumed' in element ? element.assumed?.filter((path) => !paths.includes(path)) : undefined;
  const parsed = elementSchemas[element.kind].safeParse({ ...element, assumed: assumed?.length ? assumed : undefined });
  if (!parsed.success) {
    const { message } = parsed.error.issues[0];
    return no(message.charAt(0).toUpperCase() + message.slice(1));
  }
  return { ok: true, element: parsed.data as Element };
}

/** The element that a text typed into a cell makes; the text of the cell itself changes nothing. */
export function typedCell(network: Network, parts: ScheduleParts, cell: ScheduleCell, text: string): TypedCell {
  const typed = text.trim();
  const end = parts.end ? network.elements.get(parts.end) : null;
  const line = find(network, 'line', parts.cable);
  const own = find(network, 'switch', parts.device);
  const consumer = end ? consumerOf(end) : usualConsumer;
  const withConsumer = (change: Partial<Consumer>): TypedCell =>
    isConsumer(end)
      ? made({ ...end, circuit: { ...consumer, ...change } }, [])
      : no('This circuit has no consumer of its own.');
  const number = (unit: string, use: (value: number) => TypedCell): TypedCell => {
    const read = parseQuantity(typed, unit);
    return read.ok ? use(read.value) : no(read.message);
  };
  switch (cell) {
    case 'name':
      return end && 'name' in end
        ? made({ ...end, name: typed } as Element, [])
        : no('Another board: rename it there.');
    case 'size':
      return isConsumer(end) ? sized(network, parts, end, typed) : no('Several consumers: open them one by one.');
    case 'powerFactor':
      return isConsumer(end)
        ? number('', (value) => made({ ...end, powerFactor: value }, ['powerFactor']))
        : no('This circuit has no consumer of its own.');
    case 'phases': {
      const phases =
        phaseChoices.find((each) => each === typed.toUpperCase()) ?? (/^(3|three|3ph)$/i.test(typed) ? 'three' : null);
      if (!phases) return no('Write 3, L1, L2 or L3.');
      const changed = withConsumer({ phases });
      // What was given in amperes keeps them.
      return changed.ok && consumer.given === 'A' && end?.kind === 'load'
        ? sized(network, parts, changed.element as ElementOf<'load'>, cellText(network, parts, 'size'))
        : changed;
    }
    case 'use':
      return /^(fixed|sockets?)$/i.test(typed)
        ? withConsumer({ use: /^fixed$/i.test(typed) ? 'fixed' : 'sockets' })
        : no('Write fixed or sockets.');
    case 'demand':
      return number('%', (demandPercent) => withConsumer({ demandPercent }));
    case 'device':
      return own ? withDeviceText(own, typed) : no('This circuit has no switch that could have a device.');
    case 'length':
      return line ? number('m', (value) => made({ ...line, lengthKm: value / 1000 }, ['lengthKm'])) : noCable;
    case 'section':
      return line ? withSectionText(line, typed) : noCable;
    case 'method': {
      const method = layingMethods.find((each) => each === typed.toUpperCase());
      if (!method) return no(`Write one of ${layingMethods.join(', ')}.`);
      // What lies otherwise meets other surroundings: 20 °C in the ground, 30 °C in air.
      const before = line?.laying ?? usualLaying;
      const moves = (before.method.startsWith('D') ? 'D' : '') !== (method.startsWith('D') ? 'D' : '');
      return laid(line, { method, ...(moves && { ambientC: method.startsWith('D') ? 20 : 30 }) });
    }
    case 'ambient':
      return number('°C', (ambientC) => laid(line, { ambientC }));
    case 'together':
      return number('', (together) => laid(line, { together }));
  }
}

const noCable = no('This circuit has no cable.');
const laid = (line: Line | null | undefined, change: Partial<typeof usualLaying>): TypedCell =>
  line ? made({ ...line, laying: { ...(line.laying ?? usualLaying), ...change } }, []) : noCable;

/** "4.2 kW", "12 A", "5 kVA"; a bare number in the unit that is there. */
function sized(network: Network, parts: ScheduleParts, end: ConsumerElement, text: string): TypedCell {
  const match = /^([\d.,\s\u2009]+)\s*(kW|W|kVA|VA|A)?(\s*motor)?$/i.exec(text);
  if (!match) return no('Write a load as 4.2 kW, 5 kVA or 12 A.');
  const read = parseQuantity(match[1].trim(), '');
  if (!read.ok) return no(read.message);
  const consumer = consumerOf(end);
  const typed = match[2]?.toLowerCase();
  if (end.kind === 'asynchronousMotor') {
    if (typed && typed !== 'kw' && typed !== 'w') return no('A motor is given by its shaft power, in kW.');
    return made({ ...end, ratedMw: read.value / (typed === 'w' ? 1e6 : 1000) }, ['ratedMw']);
  }
  const given: LoadGiven =
    typed === 'a'
      ? 'A'
      : typed === 'kw' || typed === 'w'
        ? 'kW'
        : typed === 'kva' || typed === 'va'
          ? 'kVA'
          : consumer.given;
  const value = typed === 'w' || typed === 'va' ? read.value / 1000 : read.value;
  const va =
    given === 'A'
      ? value * vaPerAmpere(network, parts, consumer)
      : given === 'kW'
        ? (1000 * value) / end.powerFactor
        : 1000 * value;
  return made({ ...end, ratedMva: Number((va / 1e6).toPrecision(10)), circuit: { ...consumer, given } } as Element, [
    'ratedMva',
  ]);
}

/** "4", "2 × 150", "16 Al XLPE": a section of the series with what goes with it. */
export function withSectionText(line: Line, text: string): TypedCell {
  const match = /^(?:(\d+)\s*[x×]\s*)?([\d.,]+)\s*(?:mm²|mm2)?\s*(Cu|Al)?\s*(PVC|XLPE)?$/i.exec(text);
  const section = match && parseQuantity(match[2], '');
  if (!section?.ok) return no('Write a section as 4 or 2 × 150; Al or XLPE may follow.');
  if (!sections.includes(section.value))
    return no(`${formatNumber(section.value)} mm² is no standard section: ${sections.slice(0, 8).join(', ')} … mm².`);
  const now = cableCase(line);
  const metal = match![3]
    ? match![3].toLowerCase() === 'cu'
      ? 'Cu'
      : 'Al'
    : line.sectionMm2 === null
      ? 'Cu'
      : (now.metal ?? 'Cu');
  const insulation = match![4] ? (match![4].toUpperCase() === 'PVC' ? 'PVC' : 'XLPE') : (now.insulation ?? 'XLPE');
  const values = cableValues(metal, insulation, section.value);
  if (!values) return no(`${formatNumber(section.value)} mm² is not made in aluminium.`);
  return made(
    {
      ...line,
      ...values,
      ratedA: null,
      circuits: match![1] ? Number(match![1]) : line.circuits,
      laying: { ...(line.laying ?? usualLaying), peMm2: null },
    } as Line,
    Object.keys(values),
  );
}

/** "C16", "gG 25", "25 A gG", "–": the device of a switch; other functions of it, such as a residual-current device, stay. */
export function withDeviceText(element: Switch, text: string): TypedCell {
  const own = element.functions.filter(({ family }) => family === 'residual');
  if (/^[-–—]?$/.test(text)) return made({ ...element, functions: own } as Element, ['functions']);
  const [, residual] = /\+\s*(?:RCD\s*)?(\d+)\s*mA/i.exec(text) ?? [];
  const chief = text.replace(/\+.*$/, '').trim();
  const id = (variant: string): ElementId =>
    element.functions.find(({ family }) => family === variant)?.id ??
    elementId(`${element.id}-${variant}`.slice(0, 64));
  const guards: DeviceFunction[] = residual
    ? [{ ...familyNamed('residual').fresh(id('residual'), 'general', null), ratedResidualA: Number(residual) / 1000 }]
    : own;
  const mini = /^([BCD])\s*(\d+)\s*A?$/i.exec(chief);
  if (mini) {
    const ratedA = Number(mini[2]);
    if (!miniatureSizes.includes(ratedA)) return no(`Miniature breakers are made for ${miniatureSizes.join(', ')} A.`);
    const type = mini[1].toUpperCase() as 'B' | 'C' | 'D';
    const fn = {
      ...familyNamed('miniature').fresh(id('miniature'), type, null),
      ratedA,
      limitA2s: class3LimitA2s(type, ratedA, element.breakingKa ?? 10),
    };
    return made({ ...element, type: 'breaker', ratedA, functions: [fn, ...guards] } as Element, [
      'functions',
      'ratedA',
    ]);
  }
  const link = /^(?:(gG|aM)\s*(\d+)\s*A?|(\d+)\s*A?\s*(gG|aM))$/i.exec(chief);
  if (link) {
    const kind = (link[1] ?? link[4]).toLowerCase() === 'gg' ? 'gG' : 'aM';
    const linkA = Number(link[2] ?? link[3]);
    if (!linkSizes[kind].includes(linkA)) return no(`Links ${kind} are made for ${linkSizes[kind].join(', ')} A.`);
    const fn = { ...familyNamed('fuse').fresh(id('fuse'), kind, null), linkA };
    return made(
      {
        ...element,
        type: 'fuse',
        ratedA: linkA,
        openingTimeS: null,
        breakingKa: element.breakingKa ?? 120,
        functions: [fn],
      } as Element,
      ['functions', 'ratedA'],
    );
  }
  const set = /^(?:Ir\s*)?([\d.,]+)\s*A?$/i.exec(chief);
  const release = element.functions.find((fn) => fn.family === 'release');
  if (set && release?.family === 'release') {
    const read = parseQuantity(set[1], 'A');
    if (!read.ok) return no(read.message);
    const ir = Number((read.value / release.ratedA).toPrecision(4));
    if (ir > 1 || ir <= 0) return no(`Its release can be set up to ${release.ratedA} A.`);
    return made(
      { ...element, functions: element.functions.map((fn) => (fn === release ? { ...release, ir } : fn)) } as Element,
      ['functions'],
    );
  }
  return no('Write a device as C16, gG 25 or C16 + 30 mA.');
}
