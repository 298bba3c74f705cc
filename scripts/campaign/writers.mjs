/** Clients that edit while things are killed, and what must hold afterwards: nothing acknowledged lost, no batch half done, revisions without a gap. */
import { demo, pick, sleep } from './instance.mjs';

const touchedTogether = 3;

export class Writers {
  constructor(instance, random) {
    Object.assign(this, { instance, random });
    this.acknowledged = [];
    this.sent = 0;
    this.on = false;
    this.clients = [];
  }

  async prepare(projects = 2) {
    this.projects = [];
    for (let k = 0; k < projects; k++) {
      const { text } = await this.instance.request('POST', '/api/projects/import', { body: demo() });
      this.projects.push(JSON.parse(text).id);
    }
    this.elements = JSON.parse(demo()).elements.filter(({ kind }) => kind === 'bus');
  }

  begin(count = 4) {
    this.on = true;
    this.clients = Array.from({ length: count }, (_, k) => this.client(`client-${k}-${Date.now()}`, k));
  }

  async end() {
    this.on = false;
    await Promise.all(this.clients);
  }

  /** Each batch writes one word into several elements of its own: they must always agree. */
  async client(name, k) {
    const { instance, random } = this;
    const own = this.elements.filter((_, n) => n % 4 === k % 4).slice(0, touchedTogether);
    const project = this.projects[k % this.projects.length];
    let base = 1;
    while (this.on) {
      const batchId = `c${k}-${Date.now().toString(36)}-${(++this.sent).toString(36)}`.padEnd(8, '0');
      const changes = own.map((element) => ({ op: 'update', element: { ...element, note: batchId } }));
      const batch = { batchId, baseRevision: base, label: 'campaign', origin: 'edit', clients: [name], changes };
      // As the browser does: the same batch again until it is answered.
      while (this.on) {
        const answer = await instance.json('POST', `/api/projects/${project}/changes`, batch, { timeout: 10_000 });
        if (answer.status === 200) {
          const { revision } = JSON.parse(answer.text);
          this.acknowledged.push({ project, batchId, revision });
          base = revision;
          break;
        }
        if (answer.status === 409) {
          base = JSON.parse(answer.text).error.revision ?? base;
          batch.baseRevision = base;
        }
        await sleep(20 + 80 * random());
      }
      if (random() < 0.2) await sleep(pick(random, [1, 5, 20]));
    }
  }

  /** Looks into the database: `{ lost, torn, gaps, acknowledged }`. */
  async verify() {
    const database = await this.instance.database();
    const result = { acknowledged: this.acknowledged.length, lost: 0, torn: 0, gaps: 0 };
    for (const project of this.projects) {
      const [log] = await database.query(
        'SELECT revision, batch_id, forward FROM changes WHERE project_id = ? ORDER BY revision',
        [project],
      );
      const [[{ revision }]] = await database.query('SELECT revision FROM projects WHERE id = ?', [project]);
      log.forEach((row, k) => {
        if (Number(row.revision) !== k + 2) result.gaps++;
      });
      if (Number(revision) !== log.length + 1) result.torn++;
      const at = new Map(log.map((row) => [row.batch_id, Number(row.revision)]));
      for (const each of this.acknowledged)
        if (each.project === project && at.get(each.batchId) !== each.revision) result.lost++;
      // The elements are what the log makes of them.
      const notes = new Map();
      for (const row of log)
        for (const change of JSON.parse(row.forward))
          if (change.op === 'set') notes.set(change.id, change.set.note ?? notes.get(change.id));
      const [elements] = await database.query('SELECT id, data FROM elements WHERE project_id = ?', [project]);
      for (const { id, data } of elements) if (notes.has(id) && JSON.parse(data).note !== notes.get(id)) result.torn++;
    }
    await database.end();
    return result;
  }
}
