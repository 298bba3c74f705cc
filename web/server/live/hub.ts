/**
 * Streams to open pages. One look at the database a few times a second serves all streams of this process, so that what any server stores is told by all;
 * what this one stores is told at once. A database that is away is looked for again; the pages notice nothing but that no news comes.
 */
import { keepPlaces, leavePlace, standingOf, type Standing } from './presence';

const lookMs = 300;
const keepMs = 4000;

export interface Watcher {
  readonly projectId: string;
  readonly client: string;
  /** With the first look, and whenever something of it is other than before. */
  tell(standing: Standing): void;
  /** The server ends. */
  end(): void;
}

interface Hub {
  readonly watchers: Set<Watcher>;
  /** What was told last of each project, as text. */
  readonly told: Map<string, { readonly text: string; readonly standing: Standing }>;
  timer: NodeJS.Timeout | null;
  looking: Promise<void> | null;
  keptAt: number;
}

// Next loads modules more than once (routes, hot reload); the hub must be one.
const shared = globalThis as typeof globalThis & { mesuraHub?: Hub };
function hub(): Hub {
  if (shared.mesuraHub) return shared.mesuraHub;
  const made: Hub = { watchers: new Set(), told: new Map(), timer: null, looking: null, keptAt: 0 };
  const end = () => {
    for (const watcher of [...made.watchers]) watcher.end();
  };
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, end);
  return (shared.mesuraHub = made);
}

/** Begins to watch; gives what ends it. */
export function watch(watcher: Watcher): () => void {
  const { watchers, told } = hub();
  watchers.add(watcher);
  const known = told.get(watcher.projectId);
  if (known) watcher.tell(known.standing);
  look();
  return () => {
    if (!watchers.delete(watcher)) return;
    const { projectId, client } = watcher;
    if (![...watchers].some((each) => each.projectId === projectId)) told.delete(projectId);
    // The same page may have come back already, over another stream.
    if (![...watchers].some((each) => each.projectId === projectId && each.client === client))
      void leavePlace(projectId, client).then(look, () => undefined);
  };
}

/** How many streams this process has. */
export const streams = (): number => hub().watchers.size;

/** Something was stored just now: looked at once, not with the next turn. */
export function look(): void {
  const own = hub();
  if (own.looking || own.watchers.size === 0) return;
  if (own.timer) clearTimeout(own.timer);
  own.timer = null;
  own.looking = looked(own)
    .catch(() => undefined)
    .finally(() => {
      own.looking = null;
      if (own.watchers.size > 0 && !own.timer) own.timer = setTimeout(look, lookMs);
    });
}

async function looked(own: Hub): Promise<void> {
  const { watchers, told } = own;
  if (Date.now() - own.keptAt > keepMs || own.keptAt > Date.now()) {
    own.keptAt = Date.now();
    await keepPlaces([...watchers].map(({ projectId, client }) => [projectId, client] as const));
  }
  const ids = [...new Set([...watchers].map(({ projectId }) => projectId))];
  const standings = await standingOf(ids);
  for (const [id, standing] of standings) {
    const text = JSON.stringify(standing);
    if (told.get(id)?.text === text) continue;
    // A project that nobody watches any more is not remembered.
    const watching = [...watchers].filter(({ projectId }) => projectId === id);
    if (watching.length === 0) continue;
    told.set(id, { text, standing });
    for (const watcher of watching) watcher.tell(standing);
  }
}
