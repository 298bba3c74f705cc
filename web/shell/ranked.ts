import { isActionsGroup, type SpotlightActionData, type SpotlightActionGroupData } from '@mantine/spotlight';

type Entries = SpotlightActionData | SpotlightActionGroupData;

/** How well an entry fits what was typed: 0 by its whole name, 1 by its beginning, 2 by a part; null when not at all. */
function fit({ label = '', description = '' }: SpotlightActionData, query: string): number | null {
  const name = label.toLowerCase();
  if (name === query) return 0;
  if (name.startsWith(query)) return 1;
  return name.includes(query) || description.toLowerCase().includes(query) ? 2 : null;
}

/** What fits the query, the best first, and first the group with the best: the name of an element goes before a command that merely holds it. */
export function ranked(query: string, items: readonly Entries[]): Entries[] {
  const wanted = query.trim().toLowerCase();
  if (wanted === '') return [...items];
  return items
    .filter(isActionsGroup)
    .map((group) => {
      const fitting = group.actions
        .flatMap((action) => {
          const rank = fit(action, wanted);
          return rank === null ? [] : [{ action, rank }];
        })
        .sort((p, q) => p.rank - q.rank);
      return {
        group: { ...group, actions: fitting.map(({ action }) => action) },
        best: fitting[0]?.rank ?? Infinity,
      };
    })
    .filter(({ best }) => best < Infinity)
    .sort((p, q) => p.best - q.best)
    .map(({ group }) => group);
}

/** The entry that Enter takes when none is highlighted: the best for what was typed; null when nothing was typed or nothing fits. */
export function firstOf(query: string, items: readonly Entries[]): SpotlightActionData | null {
  if (query.trim() === '') return null;
  const [best] = ranked(query, items);
  return best && isActionsGroup(best) ? best.actions[0] : null;
}
