/** How a split of an earth fault current came about: currents, impedances and closed forms to follow by hand, and what the whole system gives beside them. */
import { add, divide, inverse, magnitude, multiply, scale, zero } from '../linear/complex';
import { nameIn, settingsOf, type Network } from '../model/network';
import { equivalentDepth } from '../sequence/lineConstants';
import { formula, quantityOf, Trace, type Section } from '../working/trace';
import type { EarthCase } from './fromNetwork';
import { closedForm } from './closedForm';
import { figuresOf, verdictTitles } from './study';
import { solveEarth, type EarthLine } from './system';
import type { Lasting } from './lasting';

export function earthWorking(network: Network, found: EarthCase, time: Lasting): readonly Section[] {
  const trace = new Trace();
  const q = quantityOf;
  const { system, names } = found;
  const { method } = settingsOf(network).earthReturn;
  const answer = solveEarth(system, method);
  const figures = figuresOf(network, found, answer, time.timeS);
  const ofHub = system.lines.filter(({ from }) => from === undefined);
  const label = ({ name }: EarthLine): string => names[name];

  trace.section('Currents that the lines bring');
  for (const line of ofHub)
    trace.step(
      `I(${label(line)})`,
      formula`${q('3·I0', line.current, 'A')}`,
      line.current,
      'A',
      found.place ? 'IEC 60909-0, 5.4' : undefined,
      `Towards ${names[system.hub.name]}`,
    );
  const remote = trace.step(
    'I',
    ofHub.flatMap((line, k) => [...(k > 0 ? [' + '] : []), q(`I(${label(line)})`, line.current, 'A')]),
    answer.remote,
    'A',
  );

  const forms = ofHub.map((line) => closedForm(found, line, method));
  ofHub.forEach((line, k) => {
    const { soilOhmM, spansM, footings, conductors } = line.stretches[0];
    const own = forms[k];
    trace.section(label(line));
    if (!own.wiresOhmPerKm) {
      trace.step('r', formula`${q('r', 1)}`, 1, '', undefined, 'No wire: all of the current returns in earth');
      return;
    }
    trace.step(
      'De',
      formula`658.8716 · √(${q('ρ', soilOhmM, 'Ω·m')} / ${q('f', system.frequencyHz, 'Hz')})`,
      equivalentDepth(soilOhmM, system.frequencyHz),
      'm',
      'J. R. Carson 1926',
      'To compare with',
    );
    trace.step(
      'z′W',
      formula`${q('z′W', own.wiresOhmPerKm, 'Ω/km')}`,
      own.wiresOhmPerKm,
      'Ω/km',
      undefined,
      conductors
        .filter(({ role }) => role === 'return')
        .map(({ name }) => name)
        .join(', '),
    );
    trace.step(
      'r',
      formula`1 - ${q('ΣI′W/I', { re: 1 - own.reduction.re, im: -own.reduction.im })}`,
      own.reduction,
      '',
      'EN 50522, annex I (as remembered)',
      'Returns in earth far from both ends',
    );
    const conductance = footings.reduce<number>((sum, each) => sum + (each ? 1 / magnitude(each) : 0), 0);
    if (own.seenOhm && spansM.length > 1 && conductance > 0) {
      const span = trace.step(
        'zs',
        formula`${q('z′W', own.wiresOhmPerKm, 'Ω/km')} · ${q('s', spansM[0] / 1000, 'km')}`,
        scale(own.wiresOhmPerKm, spansM[0] / 1000),
        'Ω',
      );
      trace.step(
        'Z∞',
        formula`(${span} + √(${span}^2 + 4 · ${span} · ${q('RT', spansM.length / conductance, 'Ω')})) / 2`,
        own.seenOhm,
        'Ω',
        'J. Endrenyi 1967',
        'Endless line',
      );
    }
  });

  trace.section('By closed forms, each line endless');
  const earthing = system.hub.earthing;
  if (earthing) {
    const toEarth = ofHub.reduce((sum, line, k) => add(sum, multiply(forms[k].reduction, line.current)), zero);
    const given = trace.step(
      'Ie',
      ofHub.flatMap((line, k) => [
        ...(k > 0 ? [' + '] : []),
        q(`r(${label(line)})`, forms[k].reduction),
        ' · ',
        q(`I(${label(line)})`, line.current, 'A'),
      ]),
      toEarth,
      'A',
    );
    const admittance = forms.reduce(
      (sum, { seenOhm }) => (seenOhm ? add(sum, inverse(seenOhm)) : sum),
      inverse(earthing),
    );
    const ze = trace.step(
      'ZE',
      [
        '1 / (1 / ',
        q('ZG', earthing, 'Ω'),
        ...forms.flatMap(({ seenOhm, line }) => (seenOhm ? [' + 1 / ', q(`Z∞(${names[line]})`, seenOhm, 'Ω')] : [])),
        ')',
      ],
      inverse(admittance),
      'Ω',
    );
    const rise = trace.step('UE', formula`${ze} · ${given}`, multiply(ze.value, given.value), 'V');
    trace.step(
      'IG',
      formula`${rise} / ${q('ZG', earthing, 'Ω')}`,
      divide(rise.value, earthing),
      'A',
      undefined,
      'To compare with',
    );
  }

  trace.section(`The whole system: ${system.lines.length} lines, ${system.stations.length + 1} stations`);
  const grid = trace.step(
    'IG',
    formula`${q('IG', answer.gridCurrent, 'A')}`,
    answer.gridCurrent,
    'A',
    undefined,
    `Into the earthing of ${names[system.hub.name]}`,
  );
  if (earthing)
    trace.step(
      'UE',
      formula`|${q('ZG', earthing, 'Ω')}| · |${grid}|`,
      magnitude(answer.potentials[system.hub.name]),
      'V',
      undefined,
      'Earth potential rise',
    );
  const whole = system.fault ? q('IF', answer.total, 'A') : remote;
  const split = trace.step(
    'Sf',
    formula`|${grid}| / |${whole}|`,
    figures.split,
    '',
    'IEEE 80, 15.9 (as remembered)',
    'Split factor',
  );
  if (figures.decrement !== null && found.xOverR !== null) {
    const ta = trace.step(
      'Ta',
      formula`${q('X/R', found.xOverR)} / (2 · π · ${q('f', system.frequencyHz, 'Hz')})`,
      found.xOverR / (2 * Math.PI * system.frequencyHz),
      's',
      'IEEE 80, 15.10 (as remembered)',
    );
    const t = q('tf', time.timeS, 's');
    const df = trace.step(
      'Df',
      formula`√(1 + ${ta} / ${t} · (1 - exp(-2 · ${t} / ${ta})))`,
      figures.decrement,
      '',
      'IEEE 80, 15.10 (as remembered)',
    );
    trace.step(
      'IG·Df',
      formula`${df} · ${split} · |${whole}|`,
      figures.decrement * figures.gridA,
      'A',
      undefined,
      'With its offset',
    );
  }

  trace.section('What people bear');
  trace.step(
    'tf',
    formula`${q('tf', time.timeS, 's')}`,
    time.timeS,
    's',
    undefined,
    time.by === 'chosen'
      ? 'As chosen'
      : time.device
        ? `Until ${nameIn(network, time.device)} has cleared, played with all protection`
        : 'The protection does not clear it: as the project says for ratings',
  );
  const { touch } = figures;
  trace.step('UT', formula`${q('UT', touch.touchV, 'V')}`, touch.touchV, 'V', touch.source);
  if (touch.stepV !== null) trace.step('US', formula`${q('US', touch.stepV, 'V')}`, touch.stepV, 'V', touch.source);
  trace.step(
    'UE,met',
    formula`${q('n', touch.metV / touch.touchV)} · ${q('UT', touch.touchV, 'V')}`,
    touch.metV,
    'V',
    touch.source,
    `Up to this rise nothing more is to be shown: ${verdictTitles[figures.verdict]}`,
  );
  return trace.sections;
}
