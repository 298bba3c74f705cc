/** Checks, sheets and conditions of a network with many relays. */
import { Checker, findingsOf, type Run } from '../../core/src/checks/run';
import { networkPairs } from '../../core/src/grading/network';
import { solidFault } from '../../core/src/faults/kinds';
import { maximumSources, type Condition } from '../../core/src/model/condition';
import { newElement } from '../../core/src/model/defaults';
import type { Element } from '../../core/src/model/element';
import { elementId } from '../../core/src/model/fields';
import { find, networkOf, withElements } from '../../core/src/model/network';
import type { OvercurrentFunction } from '../../core/src/protection/overcurrent/schema';
import { propose } from '../../core/src/proposals/propose';
import { strategies } from '../../core/src/proposals/proposal';
import { sheetContent } from '../../core/src/sheets/sheet';
import { FaultEngine } from '../../core/src/studies/engine';
import { Studies } from '../../core/src/studies/studies';
import { forgetAnalyses } from '../../core/src/assembly/stamping';
import { mesh, meshElements } from '../../core/src/test/meshNetwork';
import { rowsFor } from '../../web/stages/findings/rows';
import { protectedNetwork } from '../protectedNetwork';
import { say, time } from './measure';

function drain<T>(steps: Generator<number, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

export function checks(): void {
  const group = '300 relays, 3 conditions';
  const elements = JSON.parse(JSON.stringify(protectedNetwork(300))) as Element[];
  const findings = (checker: Checker, studies: Studies): Run => {
    const run = drain(checker.run(studies));
    findingsOf(run, studies.network);
    return run;
  };
  const whole = time(
    () => {
      forgetAnalyses();
      return networkOf(elements);
    },
    (network) => findings(new Checker(), new Studies(network)),
    { warmUp: 2, least: 5 },
  );
  say({ group, what: 'all checks and findings, from the model', unit: 'ms', ...whole, reach: 2000 });

  const graded = time(
    () => {
      forgetAnalyses();
      return new Studies(networkOf(elements));
    },
    (fresh) => drain(networkPairs(fresh, fresh.conditions)),
    { warmUp: 2, least: 5 },
  );
  say({ group, what: 'pairs found and all their margins, from the model', unit: 'ms', ...graded, reach: 2000 });

  for (const strategy of strategies) {
    const proposed = time(
      () => {
        forgetAnalyses();
        return new Studies(networkOf(elements));
      },
      (fresh) => drain(propose(fresh, fresh.conditions, { devices: null, strategy, includeAssumed: true })),
      { warmUp: 1, least: 3 },
    );
    say({ group, what: `a proposal for all of them, ${strategy}`, unit: 'ms', ...proposed, reach: 5000 });
  }

  const network = networkOf(elements);
  const checker = new Checker();
  let studies = new Studies(network);
  findings(checker, studies);
  let k = 0;
  const change = time(
    () => {
      const relay = find(network, 'relay', elementId(`r${100 + (k % 300)}-relay`))!;
      const [first, ...rest] = relay.functions as OvercurrentFunction[];
      k++;
      const changed = { ...relay, functions: [{ ...first, timeMultiplier: 0.1 + 0.01 * (k % 50) }, ...rest] };
      return { changed, next: withElements(studies.network, [changed]) };
    },
    ({ changed, next }) => {
      studies = new Studies(next, { studies, changed: [changed.id] });
      findings(checker, studies);
    },
  );
  say({ group, what: 'the same after one setting has changed', unit: 'ms', ...change, reach: 50 });
  const { checks: some } = findings(checker, studies);
  const many = Array.from({ length: 5000 }, (_, n) => ({
    ...some[n % some.length],
    id: `${some[n % some.length].id} ${n}`,
  }));
  const listed = time(
    () =>
      many.map((check) =>
        Math.random() < 0.01 && check.value !== null ? { ...check, value: check.value * 0.9 } : check,
      ),
    (now) => {
      rowsFor(now, studies.network, { shown: 'all', filter: 'r1 margin', kept: many });
      rowsFor(now, studies.network, { shown: 'changed', filter: '', kept: many });
    },
  );
  say({ group, what: '5,000 checks listed, filtered and compared', unit: 'ms', ...listed, reach: 100 });
  const sheets = time(
    () => new Studies(network),
    (fresh) => {
      for (let j = 100; j < 300; j++) sheetContent(fresh, elementId(`r${j}-relay`));
    },
    { warmUp: 1, least: 5 },
  );
  say({ group, what: '200 setting sheets, from the model', unit: 'ms', ...sheets });
}

export function conditions(): void {
  const group = '500 buses, conditions';
  const elements = [...switchedMesh(), ...tenConditions()];
  const table = (count: number) => {
    const made = time(
      () => {
        forgetAnalyses();
        return networkOf(elements);
      },
      (network) => {
        const engine = new FaultEngine(network);
        for (const { id } of tenConditions().slice(0, count))
          drain(engine.table({ method: 'iec60909', condition: id }, solidFault('3ph')));
      },
      { warmUp: 5, forMs: 3000 },
    );
    say({ group, what: `three-phase faults at all buses in ${count} of them`, unit: 'ms', ...made });
    return made.median;
  };
  const [one, ten] = [table(1), table(10)];
  say({ group, what: 'ten over one', unit: '', median: ten / one, runs: 1, reach: 3 });
}

/** A mesh with a breaker at one end of every seventh line, and every fifth bus in two sections with a coupler. */
export function switchedMesh(): Element[] {
  const id = elementId;
  const elements: Element[] = [];
  for (const element of meshElements(mesh(500))) {
    const [, k, end] = (element.kind === 'connection' && /^l(\d+)([ab])$/.exec(element.id)) || [];
    if (element.kind !== 'connection' || k === undefined) {
      elements.push(element);
      continue;
    }
    const section = /^b(\d+)$/.exec(element.to.element)?.[1];
    const apart = end === 'b' && section && Number(section) % 5 === 0;
    const to = apart ? { ...element.to, element: id(`s${section}`) } : element.to;
    if (end === 'b' || Number(k) % 7 !== 0) elements.push({ ...element, to });
    else
      elements.push(
        newElement('switch', id(`q${k}`), `Q${k}`),
        { ...element, to: { element: id(`q${k}`), terminal: 0 } },
        { ...element, id: id(`l${k}q`), from: { element: id(`q${k}`), terminal: 1 }, to },
      );
  }
  for (let k = 0; k < 500; k += 5) {
    const wire = (name: string, terminal: number, bus: string): Element => ({
      kind: 'connection',
      id: id(name),
      from: { element: id(`k${k}`), terminal },
      to: { element: id(bus), terminal: 0, at: 10 },
    });
    elements.push(
      newElement('bus', id(`s${k}`), `S${k}`, { nominalKv: 33 }),
      newElement('switch', id(`k${k}`), `K${k}`),
      wire(`k${k}a`, 0, `b${k}`),
      wire(`k${k}b`, 1, `s${k}`),
    );
  }
  return elements;
}

/** As drawn, a line out, a line open at one end, a coupler open with another line out, and so on. */
export const tenConditions = (): Condition[] =>
  Array.from({ length: 10 }, (_, k): Condition => {
    const line = [elementId(`l${7 * k}`)];
    const changes = [{ open: [elementId(`k${25 * k}`)], out: line }, { out: line }, { open: [elementId(`q${7 * k}`)] }][
      k % 3
    ];
    return { ...maximumSources, id: elementId(`condition-${k}`), name: `Condition ${k}`, ...(k > 0 && changes) };
  });
