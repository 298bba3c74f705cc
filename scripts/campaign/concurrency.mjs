/** Many clients on one element and on their own ones: no update lost, none made twice, none seen by halves. */
import { demo, Instance, seeded, sleep } from './instance.mjs';

export async function concurrency({ clients, rounds, seed = 13, say }) {
  const random = seeded(seed);
  const instance = await Instance.create();
  const figures = {
    startFailures: 0,
    counted: 0,
    clashes: 0,
    lostUpdates: 0,
    madeTwice: 0,
    disjoint: 0,
    disjointRefused: 0,
    wrongElements: 0,
  };
  let sent = 0;
  const batchOf = (baseRevision, changes, more = {}) => ({
    batchId: `conc-${Date.now().toString(36)}-${(++sent).toString(36)}`.padEnd(8, '0'),
    baseRevision,
    label: 'concurrency',
    origin: 'edit',
    changes,
    ...more,
  });
  try {
    if (!(await instance.start()).ok) return { ...figures, startFailures: 1 };
    const fresh = async () =>
      JSON.parse((await instance.request('POST', '/api/projects/import', { body: demo() })).text).id;
    const open = async (id) => JSON.parse((await instance.request('GET', `/api/projects/${id}`)).text);
    const post = (id, batch) => instance.json('POST', `/api/projects/${id}/changes`, batch);

    // A counter in one element: each client reads it, adds one and stores; what clashes is read anew.
    const counter = await fresh();
    await Promise.all(
      Array.from({ length: clients }, async () => {
        for (let done = 0; done < rounds;) {
          const { revision, elements } = await open(counter);
          const bus = elements.find(({ kind }) => kind === 'bus');
          const { status } = await post(
            counter,
            batchOf(revision, [{ op: 'update', element: { ...bus, note: String(Number(bus.note || 0) + 1) } }]),
          );
          if (status === 200) {
            figures.counted++;
            done++;
          } else {
            figures.clashes++;
            await sleep(30 * random());
          }
        }
      }),
    );
    figures.lostUpdates =
      figures.counted - Number((await open(counter)).elements.find(({ kind }) => kind === 'bus').note);
    say(`${figures.counted} increments by ${clients} clients, ${figures.clashes} clashes, ${figures.lostUpdates} lost`);

    // The same batch sent by several at once, and again later on a newer base: stored once.
    const once = await fresh();
    for (let k = 0; k < rounds; k++) {
      const { revision } = await open(once);
      const element = { kind: 'textNote', id: `n${k}`, x: 0, y: 0, text: 't', size: 'normal' };
      const batch = batchOf(revision, [{ op: 'add', element }]);
      const answers = await Promise.all(Array.from({ length: 6 }, () => post(once, batch)));
      answers.push(await post(once, { ...batch, baseRevision: revision + 1 }));
      const revisions = new Set(answers.map(({ text }) => JSON.parse(text).revision));
      if (revisions.size !== 1 || (await open(once)).revision !== revision + 1) figures.madeTwice++;
    }

    // Clients that never touch the same: nothing is refused, and everything is there in the end.
    const apart = await fresh();
    const placed = (await open(apart)).elements.filter((element) => 'note' in element);
    const last = new Map();
    await Promise.all(
      Array.from({ length: clients }, async (_, k) => {
        let known = 1;
        const own = placed.filter((_, n) => n % clients === k);
        for (let n = 0; n < 4 * rounds; n++) {
          const element = { ...own[n % own.length], note: `${k} ${n}` };
          const { status, text } = await post(apart, batchOf(known, [{ op: 'update', element }]));
          if (status !== 200) {
            figures.disjointRefused++;
            continue;
          }
          figures.disjoint++;
          known = JSON.parse(text).revision;
          last.set(element.id, element.note);
        }
      }),
    );
    for (const { id, note } of (await open(apart)).elements)
      if (last.has(id) && last.get(id) !== note) figures.wrongElements++;
    return figures;
  } finally {
    await instance.end();
  }
}
